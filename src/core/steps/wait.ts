import type { WaitRecord } from '../state/run-state';
import { waitKey } from '../state/place-keys';
import { longestWait } from '../procedure/schema/steps';
import { settle } from '../settle/settle';
import { numberIn, withUnit, type StepContext, type StepKind } from './step-context';

export type Waiting = {
  /** Not begun, running, over by its time, or over because what it waits for is there. */
  state: 'not-begun' | 'running' | 'over' | 'settled';
  endsAt: string | null;
  /** When the person is warned that it will soon be over. */
  warnsAt: string | null;
  /** What has been seen of what it waits for, in words; empty where it waits for time alone. */
  seen: string;
  /** What the values seen so far make of it: where it goes and when; empty with too few. */ approach: string;
  /** Near what it waits for, but not there. */ isNear: boolean;
};

const minute = 60_000;

/**
 * The minutes that a wait takes at the longest; the most there are while its formula cannot be worked out.
 * @example minutesOf(contextOf(bath, bath.plan.find((i) => i.type === 'step' && stepOf(bath, i).kind === 'wait'))) // 30
 */
export function minutesOf(c: StepContext<'wait'>): number {
  const minutes = numberIn(c, c.step.minutes) ?? longestWait;
  return Math.min(Math.max(0, minutes), longestWait);
}

/** When a wait began: with its own beginning, or with the step since which it runs. */
function beganAt({ state, step, place }: StepContext<'wait'>, record: WaitRecord | undefined): string | null {
  if (step.since === undefined) return record?.begun.at ?? null;
  const since = [...state.steps].reverse().find((s) => s.item.id === step.since);
  const waited = [...state.waits].reverse().find(([key]) => key.endsWith(`|${step.since}`))?.[1];
  return since?.at ?? waited?.ended?.at ?? record?.begun.at ?? (place.set ? state.startedAt : null);
}

/**
 * How far a wait has come.
 * @example waiting(contextOf(bath, bath.plan.find((i) => i.type === 'step' && stepOf(bath, i).kind === 'wait'))).endsAt // '2026-11-24T08:30:09.000Z'
 */
export function waiting(c: StepContext<'wait'>): Waiting {
  const { state, step, place, now } = c;
  const record = state.waits.get(waitKey({ ...place, id: step.id }));
  const none: Waiting = { state: 'not-begun', endsAt: null, warnsAt: null, seen: '', approach: '', isNear: false };
  if (!record) return none;
  const began = beganAt(c, record)!;
  const ends = Date.parse(began) + minutesOf(c) * minute;
  const base = {
    endsAt: new Date(ends).toISOString(),
    warnsAt: step.warnMinutes === undefined ? null : new Date(ends - step.warnMinutes * minute).toISOString(),
  };
  const until = step.until && watchedState(c, record);
  if (until?.isThere) return { ...base, state: 'settled', seen: until.words, approach: '', isNear: false };
  return {
    ...base,
    state: Date.parse(now) >= ends ? 'over' : 'running',
    seen: until?.words ?? '',
    approach: until ? approachWords(c, record) : '',
    isNear: until?.isNear ?? false,
  };
}

/** What was seen while waiting: minutes since the first, and value. @example watchedSamples({ watched: [] }) // [] */
export const watchedSamples = (record: Pick<WaitRecord, 'watched'>): [minutes: number, value: number][] => {
  const first = record.watched[0];
  return record.watched.map((w) => [
    (Date.parse(w.at) - Date.parse(first!.at)) / minute,
    Number(w.text.replace('−', '-').replace(',', '.')),
  ]);
};

type Watched = { isThere: boolean; isNear: boolean; words: string };

/** Fewer values than this say nothing of where it goes. */
const fewestSeen = 4;

/** Where what is watched goes, and when it will be there, told from the whole approach. */
function approachWords(c: StepContext<'wait'>, record: WaitRecord): string {
  const within = numberIn(c, c.step.until?.within);
  const seen = watchedSamples(record).filter(([, v]) => Number.isFinite(v));
  if (!within || seen.length < fewestSeen) return '';
  const inOrder = seen.filter(([t], i) => i === 0 || t > seen[i - 1]![0]);
  const { sentence } = settle({
    unit: '1',
    samples: inOrder.map(([t, v]): [number, number] => [60 * t, v]),
    tolerance: within,
    noise: null,
    confidence: 0.95,
  });
  return sentence;
}

/** Whether what was watched is steady, or near what it should be. */
function watchedState(c: StepContext<'wait'>, record: WaitRecord): Watched | null {
  const { until } = c.step;
  if (!until) return null;
  const seen = record.watched.map((w) => ({ at: Date.parse(w.at), value: Number(w.text.replace(',', '.')) }));
  const last = seen.at(-1);
  if (!last) return { isThere: false, isNear: false, words: '' };
  const within = numberIn(c, until.within) ?? 0;
  if ('settled' in until) {
    // The span that ends now, back to the first value that is too far from one within it.
    let from = seen.length - 1;
    let [least, greatest] = [last.value, last.value];
    while (from > 0) {
      const { value } = seen[from - 1]!;
      if (Math.max(greatest, value) - Math.min(least, value) > within) break;
      [least, greatest] = [Math.min(least, value), Math.max(greatest, value)];
      from--;
    }
    const minutes = (last.at - seen[from]!.at) / minute;
    const isThere = from < seen.length - 1 && minutes >= until.forMinutes;
    return {
      isThere,
      isNear: false,
      words: isThere
        ? `Steady within ${withUnit(within, '')} for ${Math.floor(minutes)} minutes.`
        : `Within ${withUnit(within, '')} for ${Math.floor(minutes)} of ${until.forMinutes} minutes.`,
    };
  }
  const target = numberIn(c, { is: until.near });
  if (target === undefined) return null;
  const away = Math.abs(last.value - target);
  const warn = until.warnWithin === undefined ? undefined : numberIn(c, until.warnWithin);
  return {
    isThere: away <= within,
    isNear: away > within && warn !== undefined && away <= warn,
    words: `${withUnit(Number(away.toPrecision(6)), '')} away.`,
  };
}

/** A wait is begun and ended by acts of its own; `step-done` has no part in it. */
export const wait: StepKind<'wait'> = {
  admit: () => ({ message: 'A wait is begun and ended.', path: ['type'] }),
  sentence: (c) => {
    switch (waiting(c).state) {
      case 'not-begun':
        return c.step.instruction;
      case 'running':
        return `${c.step.title}: it is running.`;
      default:
        return `${c.step.title} is over. Carry on when you are ready.`;
    }
  },
  said: () => 'done',
};
