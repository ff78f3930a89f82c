import type { PlanItem } from '../../core/plan/plan-schema';
import { useState } from 'react';
import type { Slot } from '../../core/state/run-state';
import { later } from '../../ui/later';
import { StepPanel, type StepItem } from '../steps/StepPanel';
import { ReadingPanel } from './ReadingPanel';
import type { OpenResult } from './SeriesSheet';
import { UntilAdjusted } from './UntilAdjusted';

const AdjustPanel = later(async () => (await import('./AdjustPanel')).AdjustPanel);
const ConditionsPanel = later(async () => (await import('./ConditionsPanel')).ConditionsPanel);
const DatePanel = later(async () => (await import('./DatePanel')).DatePanel);
const LimitTo = later(async () => (await import('./LimitTo')).LimitTo);
const FinishPanel = later(async () => (await import('./FinishPanel')).FinishPanel);
const GatePanel = later(async () => (await import('./PlanPanels')).GatePanel);
const GoOnPanel = later(async () => (await import('./PlanPanels')).GoOnPanel);
const LookAgainPanel = later(async () => (await import('./LookAgainPanel')).LookAgainPanel);
const JudgePanel = later(async () => (await import('./JudgePanel')).JudgePanel);

type Props = {
  /** What comes next; null when all is done. */ item: PlanItem | null;
  /** The reading that is taken or looked at. */ slot: Slot | null;
  /** A step whose answer is being corrected. */ correcting: StepItem | null;
  onCorrected: () => void;
  onCursor: (slot: Slot | null) => void;
  /** Steps to the reading before or after; that of this run, where nothing is given. */
  onStep?: (by: 1 | -1) => void;
  onOpen: (result: OpenResult) => void;
};

/** The panel of what is done now. */
export function PresentPanel({ item, slot, correcting, onCorrected, onCursor, onStep, onOpen }: Props) {
  /** Whether the conditions are read again. */
  const [again, setAgain] = useState(false);
  if (correcting) return <StepPanel key={`again ${JSON.stringify(correcting)}`} item={correcting} onDone={onCorrected} />;
  if (again) return <ConditionsPanel onDone={() => setAgain(false)} />;
  if (slot)
    return (
      <ReadingPanel
        slot={slot}
        onCursor={onCursor}
        {...(onStep ? { onStep } : {})}
        onConditions={() => setAgain(true)}
        onOpen={onOpen}
      />
    );
  if (!item) return <p>Making the record…</p>;
  switch (item.type) {
    case 'step':
      return (
        <UntilAdjusted key={JSON.stringify(item)} set={item.set}>
          <StepPanel item={item} />
        </UntilAdjusted>
      );
    case 'condition':
      return <ConditionsPanel onDone={null} key={JSON.stringify(item)} />;
    case 'gate':
      return <GatePanel key={JSON.stringify(item)} item={item} />;
    case 'open':
    case 'begin':
      return <GoOnPanel key={JSON.stringify(item)} item={item} />;
    case 'look':
      return <LookAgainPanel key={JSON.stringify(item)} item={item} />;
    case 'judge':
      return <JudgePanel key={item.set} set={item.set} />;
    case 'adjust':
      return (
        <UntilAdjusted key={JSON.stringify(item)} set={item.set}>
          <AdjustPanel item={item} />
        </UntilAdjusted>
      );
    case 'interval':
      return (
        <LimitTo>
          <DatePanel />
        </LimitTo>
      );
    case 'complete':
      return (
        <LimitTo>
          <FinishPanel />
        </LimitTo>
      );
    case 'reading':
      return null;
  }
}
