import { keyedFigure } from '../../core/steps/do';
import { unitIn } from '../../core/steps/step-context';
import { printedUnit } from '../../core/quantity/unit';
import { MainButton, StepText, type StepPanelProps } from './StepPanel';

/** Something to be done, with the numbers that it needs. */
export function DoPanel({ context, step, item, done }: StepPanelProps<'do'>) {
  return (
    <>
      <StepText text={step.instruction} item={item} />
      {step.show && (
        <dl className="ruled border-y border-rule">
          {step.show.map((s) => (
            <div key={s.title} className="flex items-baseline justify-between gap-3 py-2">
              <dt>{s.title}</dt>
              <dd className="figure text-3xl font-bold">
                {keyedFigure(context, s) ?? '–'}{' '}
                <span className="text-lg text-soft">{printedUnit(unitIn(context.state, s.unit, context.place))}</span>
              </dd>
            </div>
          ))}
        </dl>
      )}
      <MainButton key={JSON.stringify(item)} onPress={() => done(true)}>
        Done
      </MainButton>
    </>
  );
}
