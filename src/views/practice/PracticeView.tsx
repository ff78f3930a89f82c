import { useEffect, useMemo } from 'react';
import type { RecordedEvent } from '../../core/acts/registry';
import { isBenchWorkOver } from '../../core/run/next-step';
import { doneAt } from '../../core/state/logged';
import { guardedWhole } from '../../ui/guarded';
import { letPass, serverNow } from '../../ui/server-clock';
import { RunView, type PracticeAt } from '../run/RunView';
import { BenchDisplay } from './BenchDisplay';
import { WhatWasIt } from './WhatWasIt';

type Props = { practice: string; title: string; events: RecordedEvent[]; person: string; startedAt: string };

const known = { card: null, causes: {} };

/** The run at a bench where an instrument is simulated: the same screen, with what there is to be seen beside it. */
export const PracticeView = guardedWhole(function PracticeView({ practice, title, events, person, startedAt }: Props) {
  // Time that was let pass before is not taken back.
  useEffect(() => letPass(Date.parse(doneAt(events.at(-1)!)) - serverNow()), [events]);
  const at = useMemo(
    (): PracticeAt => ({
      title,
      above: ({ log, slot, person: who }) =>
        isBenchWorkOver(log.snapshot.state) ? null : <BenchDisplay practice={practice} log={log} slot={slot} person={who} />,
      over: ({ log }) => (isBenchWorkOver(log.snapshot.state) ? <WhatWasIt practice={practice} log={log} /> : null),
    }),
    [practice, title],
  );
  return <RunView run={practice} events={events} person={person} startedAt={startedAt} known={known} practice={at} />;
});
