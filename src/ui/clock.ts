import { useEffect, useState } from 'react';
import { askServerTime, serverNow } from './server-clock';

/** The server's time, ticking once a second; asked anew as the page comes and when the device wakes. */
export function useNow(initially: string): string {
  const [now, setNow] = useState(initially);
  useEffect(() => {
    const tick = () => setNow(new Date(serverNow()).toISOString());
    const wake = () => void askServerTime().then(tick);
    const onShown = () => document.visibilityState === 'visible' && wake();
    wake();
    const timer = setInterval(tick, 1000);
    window.addEventListener('pageshow', wake);
    document.addEventListener('visibilitychange', onShown);
    return () => {
      clearInterval(timer);
      window.removeEventListener('pageshow', wake);
      document.removeEventListener('visibilitychange', onShown);
    };
  }, []);
  return now;
}

/** Time left as 1:05:09 or 12:30; never negative. */
export function timeLeft(endsAt: string, now: string): string {
  const seconds = Math.max(0, Math.ceil((Date.parse(endsAt) - Date.parse(now)) / 1000));
  const pad = (n: number) => String(n).padStart(2, '0');
  const [h, m, s] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60];
  return h > 0 ? `${h}:${pad(m)}:${pad(s)}` : `${m}:${pad(s)}`;
}

/** Time of day as the bench clock shows it, e.g. 14:05. */
export function timeOfDay(iso: string): string {
  const at = new Date(iso);
  return `${String(at.getHours()).padStart(2, '0')}:${String(at.getMinutes()).padStart(2, '0')}`;
}
