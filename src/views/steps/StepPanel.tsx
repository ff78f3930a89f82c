import type { ActOf } from '../../core/acts/registry';
import { useEffect, useRef, useState, type ComponentType, type ReactNode } from 'react';
import { filledText } from '../../core/run/place-words';
import { contextOf } from '../../core/run/next-step';
import type { Refusal } from '../../core/state/refusal';
import { placeOf } from '../../core/state/place-keys';
import type { RunState } from '../../core/state/run-state';
import type { StepContext, StepOf } from '../../core/steps/step-context';
import type { StepDocument } from '../../core/procedure/document-schema';
import { later } from '../../ui/later';
import { CardNote } from '../run/CardNote';
import { ReasonPrompt } from '../run/ReasonPrompt';
import { useRun } from '../run/run-context';

export type StepItem = Extract<RunState['plan'][number], { type: 'step' }>;
type Value = ActOf<'step-done'>['value'];

/** What is answered at a step. */
type Answer = {
  value: Value;
  text: string | undefined;
  reason: string | undefined;
  shown: Record<string, string> | undefined;
};

/** What a panel of one kind of step is given. */
export type StepPanelProps<K extends StepDocument['kind']> = {
  context: StepContext<K>;
  step: StepOf<K>;
  item: StepItem;
  /** Records what was done; a refusal that a reason would lift is asked about here, any other is answered. */
  done: (value: Value, text?: string, reason?: string, shown?: Record<string, string>) => Refusal | null;
};

const panels: { [K in StepDocument['kind']]: ComponentType<StepPanelProps<K>> } = {
  confirm: later(async () => (await import('./ConfirmPanel')).ConfirmPanel),
  identify: later(async () => (await import('./IdentifyPanel')).IdentifyPanel),
  choose: later(async () => (await import('./ChoosePanel')).ChoosePanel),
  measure: later(async () => (await import('./MeasurePanel')).MeasurePanel),
  check: later(async () => (await import('./CheckPanel')).CheckPanel),
  wait: later(async () => (await import('./WaitPanel')).WaitPanel),
  do: later(async () => (await import('./DoPanel')).DoPanel),
  connect: later(async () => (await import('./ConnectPanel')).ConnectPanel),
  settings: later(async () => (await import('./SettingsPanel')).SettingsPanel),
};

/** A step of the plan: its title, its caution, and the panel of its kind. */
export function StepPanel({ item, onDone }: { item: StepItem; /** It was answered, or left as it was. */ onDone?: () => void }) {
  const { state, now, act } = useRun();
  const [asking, setAsking] = useState<(Answer & { message: string }) | null>(null);
  const context = contextOf(state, item, now);
  if (!context) return <p className="fault">The procedure has no step “{item.id}”.</p>;
  const { step } = context;
  const record = ({ value, text, reason, shown }: Answer): Refusal | null => {
    const refusal = act({
      type: 'step-done',
      ...placeOf(item),
      id: item.id,
      value,
      ...(text === undefined ? {} : { text }),
      ...(reason === undefined ? {} : { reason }),
      ...(shown === undefined ? {} : { shown }),
    });
    if (!refusal) onDone?.();
    return refusal;
  };
  const done: StepPanelProps<'confirm'>['done'] = (value, text, reason, shown) => {
    const answer = { value, text, reason, shown };
    const refusal = record(answer);
    if (refusal?.path[0] !== 'reason') return refusal;
    setAsking({ ...answer, message: refusal.message });
    return null;
  };
  if (asking)
    return (
      <ReasonPrompt
        title={asking.message.startsWith(step.title) ? asking.message : `${step.title}: ${asking.message}`}
        ready={[]}
        confirm="Go on with this reason"
        onCancel={() => setAsking(null)}
        onReason={(reason) => record({ ...asking, reason })?.message ?? null}
      />
    );
  const Panel = panels[step.kind] as ComponentType<StepPanelProps<StepDocument['kind']>>;
  return (
    <div className="flex flex-col gap-4">
      <p className="text-sm text-soft">{step.title}</p>
      <CardNote moments={[step.id]} place={item} />
      <Panel context={context as never} step={step as never} item={item} done={done} />
      {onDone && (
        <button type="button" className="button button-quiet" onClick={onDone}>
          Leave the answer as it was
        </button>
      )}
      {step.caution && <p className="caution">{filledText(state, step.caution, item)}</p>}
    </div>
  );
}

/** Text of a step with its places filled in. */
export function StepText({ text, item }: { text: string; item: StepItem }) {
  const { state } = useRun();
  return <h2 className="text-xl leading-snug">{filledText(state, text, item)}</h2>;
}

/** The button that Enter presses, in focus as soon as it stands there. */
export function MainButton({ children, onPress }: { children: ReactNode; onPress: () => void }) {
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => button.current?.focus(), []);
  return (
    <button ref={button} type="button" data-keys className="button button-main min-h-13 !text-lg" onClick={onPress}>
      {children}
    </button>
  );
}
