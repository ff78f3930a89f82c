import { useState } from 'react';
import { connect } from '../../core/steps/connect';
import { parsePlainNumber } from '../../core/quantity/reading';
import { Field } from '../../ui/Field';
import { MainButton, StepText, type StepPanelProps } from './StepPanel';

/** Properties of adapters that the procedure's formulas name of this step. */
function namedProperties(document: unknown, step: string): string[] {
  const names = [...JSON.stringify(document).matchAll(new RegExp(`step\\.${step}\\.([A-Za-z]\\w*)`, 'g'))].map((m) => m[1]!);
  return [...new Set(names)];
}

/** Two things are connected; adapters between them are named, and what the budget needs of them is summed. */
export function ConnectPanel({ context, step, item, done }: StepPanelProps<'connect'>) {
  const properties = namedProperties(context.state.procedure, step.id);
  const [adapters, setAdapters] = useState('');
  const [values, setValues] = useState<Record<string, string>>({});
  const [fault, setFault] = useState('');
  function record() {
    const sums: Record<string, number> = {};
    for (const p of properties) {
      const terms = (values[p] ?? '').split('+').map((t) => parsePlainNumber(t));
      const wrong = terms.find((t) => !t.ok);
      if (wrong && !wrong.ok) return setFault(`${p}: ${wrong.message}`);
      sums[p] = terms.reduce((sum, t) => sum + (t.ok ? t.reading.value : 0), 0);
    }
    setFault(done(sums, adapters.trim() || 'directly')?.message ?? '');
  }
  return (
    <>
      <StepText text={connect.sentence(context)} item={item} />
      <Field label="Adapters and hoses between them" hint="Empty: directly">
        <input value={adapters} onChange={(e) => setAdapters(e.target.value)} className="w-full" maxLength={200} />
      </Field>
      {properties.map((p) => (
        <Field key={p} label={`${p}, of each adapter`} hint="Add several with +">
          <input
            value={values[p] ?? ''}
            onChange={(e) => setValues({ ...values, [p]: e.target.value })}
            inputMode="decimal"
            className="figure w-full"
            maxLength={80}
          />
        </Field>
      ))}
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <MainButton onPress={record}>Connected</MainButton>
    </>
  );
}
