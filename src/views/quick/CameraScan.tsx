import { useEffect, useRef, useState } from 'react';

/** Pictures are looked at this far apart, in ms. */
const every = 200;
/** A picture is looked at no wider than this: a code on a label does not need more. */
const widest = 640;

/** Looks through the camera until a code is seen. */
export function CameraScan({ onCode }: { onCode: (code: string) => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const [fault, setFault] = useState('');
  useEffect(() => {
    let stream: MediaStream | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let isOver = false;
    const look = async () => {
      const { default: jsQR } = await import('jsqr');
      const canvas = document.createElement('canvas');
      const context = canvas.getContext('2d', { willReadFrequently: true })!;
      const once = () => {
        const of = video.current;
        if (isOver || !of) return;
        const scale = Math.min(1, widest / Math.max(1, of.videoWidth));
        [canvas.width, canvas.height] = [Math.round(of.videoWidth * scale), Math.round(of.videoHeight * scale)];
        if (canvas.width > 0) {
          context.drawImage(of, 0, 0, canvas.width, canvas.height);
          const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height);
          const seen = jsQR(data, width, height)?.data;
          if (seen) return onCode(seen);
        }
        timer = setTimeout(once, every);
      };
      once();
    };
    const begin = async () => {
      try {
        stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } });
        if (isOver) return stream.getTracks().forEach((t) => t.stop());
        video.current!.srcObject = stream;
        await video.current!.play();
        await look();
      } catch {
        setFault(
          'This browser gives no picture: allow the camera, or type what stands on the label. Cameras need a secure address (https).',
        );
      }
    };
    void begin();
    return () => {
      isOver = true;
      clearTimeout(timer);
      stream?.getTracks().forEach((t) => t.stop());
    };
  }, [onCode]);
  return fault ? (
    <p className="fault mt-3" role="alert">
      {fault}
    </p>
  ) : (
    <video ref={video} muted playsInline className="mt-3 w-full border border-ink" aria-label="What the camera sees" />
  );
}
