import { useEffect, useRef, useState } from 'react';
import type { AdjustmentDocument } from '../../core/procedure/document-schema';
import { filledText, placeTitle, seriesOf } from '../../core/run/place-words';
import { isThere } from '../../core/run/rungs';
import type { Turning } from '../../core/run/turning';
import type { Place } from '../../core/plan/plan-schema';
import { useRun } from './run-context';
import { TypedAt } from './TypedAt';

const settings = ['zero', 'span'] as const;
/** So many of the latest errors at a point are shown. */
const shown = 3;

/** A share of a turn that goes with it. @example '80 %' */
const share = (drag: number): string => `${Math.round(100 * drag)} %`.replace('-', '−');

/** Two settings that fight: which to turn next, to what, and how many rounds are left; every reading between is kept. */
export function TurnPanel({ doc, turning, place }: { doc: AdjustmentDocument; turning: Turning; place: Place }) {
  const { state, act } = useRun();
  const { next, said } = turning;
  const setting = settings[next.at];
  const where = (p: Place) => placeTitle(state, p) || seriesOf(state, p.series)!.title;
  const points = said.reduce<Place[]>((all, s) => (all.some((p) => isThere(p, s.place)) ? all : [...all, s.place]), []);
  const [zero, span] = next.drags;
  return (
    <div className="flex flex-col gap-3">
      <p className="text-sm text-soft">
        {doc.title}
        {next.round > 0 && `, round ${next.round} of ${turning.most} at the most`}
      </p>
      {next.do === 'read' && <h2 className="text-xl leading-snug">{where(turning.place)}: read it.</h2>}
      {next.do === 'turn' && (
        <>
          <h2 className="text-xl leading-snug">
            {where(turning.place)}: turn the {setting} until {turning.turnTo?.title ?? 'the display'} shows{' '}
            <strong className="figure whitespace-nowrap">{turning.turnTo?.words ?? 'its value'}</strong>, and read.
          </h2>
          <p>
            Come to it from below; past it, go back below first.
            {next.aim !== 0 && ' It is left beside its value: the zero, set next, takes that away.'}
          </p>
        </>
      )}
      {next.do === 'done' && (
        <h2 className="text-xl leading-snug">Both are within {turning.within}. What counts is what is read now as left.</h2>
      )}
      {next.do === 'stop' && (
        <h2 className="text-xl leading-snug">
          After {turning.most} rounds they are not within {turning.within}: stop, and look for the cause.
        </h2>
      )}
      {next.do === 'repair' && (
        <h2 className="text-xl leading-snug">
          Zero and span do the same here: no setting of them holds both ends. This is a case for repair.
        </h2>
      )}
      {doc.instruction && said.length === 0 && <p className="text-sm">{filledText(state, doc.instruction, place)}</p>}
      {doc.caution && <p className="caution">{doc.caution}</p>}
      {said.length > 0 && (
        <dl className="text-sm" aria-label="Errors so far">
          {points.map((p) => (
            <div key={JSON.stringify(p)} className="flex items-baseline justify-between gap-3 border-b border-rule py-1">
              <dt className="text-soft">{where(p)}</dt>
              <dd className="figure">
                {said
                  .filter((s) => isThere(s.place, p))
                  .slice(-shown)
                  .map((s) => s.words)
                  .join(' → ')}{' '}
                {turning.unit}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {zero !== null && (
        <p className="text-sm text-soft">
          The zero takes {share(zero)} of its turn with it at the top
          {span === null ? '' : `, the span ${share(span)} at the bottom`}.{next.left === 1 && ' One round is left.'}
        </p>
      )}
      {next.do === 'read' || next.do === 'turn' ? (
        <TypedAt
          key={said.length}
          slots={turning.slots}
          when="now"
          confirm="Take it"
          onTake={(texts) => act({ type: 'turn-read', ...turning.place, id: doc.id, texts })}
        />
      ) : (
        <RecordTurns doc={doc} place={place} />
      )}
    </div>
  );
}

function RecordTurns({ doc, place }: { doc: AdjustmentDocument; place: Place }) {
  const { act } = useRun();
  const [fault, setFault] = useState('');
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => button.current?.focus(), []);
  const record = () =>
    setFault(
      act({
        type: 'adjusted',
        set: place.set,
        id: doc.id,
        ...(place.each === undefined ? {} : { each: place.each }),
        stored: {},
        note: '',
      })?.message ?? '',
    );
  return (
    <>
      {fault && <p className="fault">{fault}</p>}
      <button ref={button} type="button" data-keys className="button button-main min-h-13 !text-lg" onClick={record}>
        Record the adjustment
      </button>
    </>
  );
}
