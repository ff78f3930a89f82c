import { useState } from 'react';
import { gateStanding } from '../../core/run/gates';
import { sentenceOf } from '../../core/run/next-step';
import { setTitle } from '../../core/run/place-words';
import { placeOf } from '../../core/state/place-keys';
import type { RunState } from '../../core/state/run-state';
import { MainButton } from '../steps/StepPanel';
import { ReasonPrompt } from './ReasonPrompt';
import { RuleOutList } from './RuleOutList';
import { useRun } from './run-context';

type Item<T extends string> = Extract<RunState['plan'][number], { type: T }>;

/** What has to be inside its limits before the plan goes on: gone on from, looked into, or gone on from with a reason. */
export function GatePanel({ item }: { item: Item<'gate'> }) {
  const { state, act } = useRun();
  const [against, setAgainst] = useState(false);
  const { passes, sentence } = gateStanding(state, item);
  const pass = (reason?: string) =>
    act({ type: 'gate-passed', ...placeOf(item), id: item.id, passes, ...(reason === undefined ? {} : { reason }) })?.message ??
    null;
  if (against)
    return (
      <ReasonPrompt
        title={`${sentence} Go on all the same: why?`}
        ready={[]}
        confirm="Go on"
        onCancel={() => setAgainst(false)}
        onReason={(reason) => pass(reason)}
      />
    );
  return (
    <div className="flex flex-col gap-4">
      <h2 className={`text-xl leading-snug ${passes ? '' : 'text-brick'}`}>{sentence}</h2>
      {passes ? (
        <MainButton onPress={() => pass()}>Go on</MainButton>
      ) : (
        <>
          <p>The run stops here until the cause is found. Readings may be struck out and taken again.</p>
          <RuleOutList set={item.set} />
          <button type="button" data-keys className="button" onClick={() => setAgainst(true)}>
            Go on all the same
          </button>
        </>
      )}
    </div>
  );
}

/** Readings begin anew, or points are known now: nothing to decide, one key. */
export function GoOnPanel({ item }: { item: Item<'begin'> | Item<'open'> }) {
  const { state, act, now } = useRun();
  const [fault, setFault] = useState('');
  const why = state.adjusted.length ? 'Adjusted' : (state.rulings.at(-1)?.note ?? '');
  const go = () => {
    const refusal =
      item.type === 'begin'
        ? act({ type: 'set-begun', set: item.set, why })
        : act({ type: 'plan-resolved', ...placeOf(item), series: item.id });
    setFault(refusal?.message ?? '');
  };
  return (
    <div className="flex flex-col gap-4">
      <h2 className="text-xl leading-snug">{sentenceOf(state, item, now)}</h2>
      {item.type === 'begin' && state.adjusted.length > 0 && (
        <p>What was adjusted is read again; conditions are taken afresh. What was found stays as it was.</p>
      )}
      {fault && <p className="fault">{fault}</p>}
      <MainButton onPress={go}>{item.type === 'begin' ? `Begin: ${setTitle(item.set).toLowerCase()}` : 'Go on'}</MainButton>
    </div>
  );
}
