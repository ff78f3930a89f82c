import { useEffect, useRef, useState } from 'react';
import { faultKinds, faultTitles, type FaultKind } from '../../core/practice/debrief-shape';
import { ask } from '../../ui/ask-server';
import type { BenchLog } from '../run/use-run-log';
import { allSent } from './all-sent';

/** The bench is left: what was it? Then it is told. */
export function WhatWasIt({ practice, log }: { practice: string; log: BenchLog }) {
  const [named, setNamed] = useState<readonly FaultKind[]>([]);
  const [fault, setFault] = useState('');
  const [isAsking, setAsking] = useState(false);
  const panel = useRef<HTMLDivElement>(null);
  useEffect(() => panel.current?.focus({ preventScroll: true }), []);
  const turn = (kind: FaultKind) => setNamed(named.includes(kind) ? named.filter((k) => k !== kind) : [...named, kind]);
  const tell = async () => {
    if (isAsking) return;
    setAsking(true);
    await allSent(log);
    const answer = await ask('POST /api/practice/[id]/end', { id: practice, body: { named: [...named] } });
    if (answer.ok) return window.location.reload();
    setAsking(false);
    setFault(answer.refusal.message);
  };
  return (
    <div
      ref={panel}
      role="group"
      aria-label="What was it"
      data-keys
      tabIndex={-1}
      className="flex flex-col gap-3 outline-none"
      onKeyDown={(e) => {
        const kind = /^[0-9]$/.test(e.key) ? faultKinds[(Number(e.key) + 9) % 10] : undefined;
        if (!kind || e.ctrlKey || e.metaKey || e.altKey) return;
        e.preventDefault();
        turn(kind);
      }}
    >
      <h2 className="text-2xl font-normal">What was it?</h2>
      <p className="text-sm text-soft">Say all that was wrong, in the instrument or around it; nothing, where it was in order.</p>
      <div className="flex flex-col gap-1">
        {faultKinds.map((kind, i) => (
          <button
            key={kind}
            type="button"
            aria-pressed={named.includes(kind)}
            className={`button !min-h-10 !justify-start !py-1 text-left ${named.includes(kind) ? 'button-main' : ''}`}
            onClick={() => turn(kind)}
          >
            <span className="key">{(i + 1) % 10}</span> {faultTitles[kind]}
          </button>
        ))}
      </div>
      {fault && <p className="fault">{fault}</p>}
      <button type="button" className="button button-main min-h-13 !text-lg" disabled={isAsking} onClick={() => void tell()}>
        {isAsking ? 'Playing it through…' : named.length ? 'That was it: tell me' : 'It was in order: tell me'}
      </button>
    </div>
  );
}
