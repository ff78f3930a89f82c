import { useState } from 'react';
import { keyedFigures, keyedValues, keyOf } from '../../core/steps/do';
import { unitIn } from '../../core/steps/step-context';
import { printedUnit } from '../../core/quantity/unit';
import { MainButton, StepText, type StepPanelProps } from './StepPanel';

/** Something to be done, with the numbers that are keyed in for it: large, ticked one by one by the key that goes on. */
export function DoPanel({ context, step, item, done }: StepPanelProps<'do'>) {
  const figures = keyedFigures(context);
  const show = step.show ?? [];
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const keys = show.map(keyOf).filter((key) => figures[key] !== undefined);
  const next = keys.find((key) => !ticked.has(key));
  const tick = (key: string) => setTicked(new Set(ticked.has(key) ? [...ticked].filter((k) => k !== key) : [...ticked, key]));
  const record = () => (keys.length ? done(keyedValues(figures, show), undefined, undefined, figures) : done(true));
  const isList = keys.length > 1;
  return (
    <>
      <StepText text={step.instruction} item={item} />
      {show.length > 0 && (
        <ul className="ruled border-y border-rule" aria-label="To be keyed in">
          {show.map((s, i) => {
            const key = keyOf(s, i);
            const figure = figures[key];
            return (
              <li key={key}>
                <label
                  className={`flex items-center gap-3 py-2 ${isList && figure !== undefined ? 'cursor-pointer' : ''} ${key === next && isList ? 'bg-verdigris-tint' : ''}`}
                >
                  {isList && figure !== undefined && (
                    <input
                      type="checkbox"
                      className="!size-6"
                      checked={ticked.has(key)}
                      onChange={() => tick(key)}
                      aria-label={`${s.title} is keyed in`}
                    />
                  )}
                  <span className="mr-auto">{s.title}</span>
                  <span className="figure text-3xl font-bold">
                    {figure ?? '–'}{' '}
                    <span className="text-lg text-soft">{printedUnit(unitIn(context.state, s.unit, context.place))}</span>
                  </span>
                </label>
              </li>
            );
          })}
        </ul>
      )}
      <MainButton key={JSON.stringify(item)} onPress={() => (isList && next !== undefined ? tick(next) : record())}>
        {isList && next !== undefined ? `Keyed in: ${show[show.map(keyOf).indexOf(next)]!.title}` : 'Done'}
      </MainButton>
    </>
  );
}
