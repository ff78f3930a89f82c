import { isIn } from '../evaluate/setting';
import { decimalsNeeded, plainDecimal, roundToDecimals } from '../quantity/rounding';
import { parsePlainNumber } from '../quantity/reading';
import { stepNamed } from '../evaluate/names/step';
import type { RunState } from '../state/run-state';
import { scopeAt } from '../state/run-scope';
import { refuse } from '../state/refusal';
import { numberIn, unitIn, withUnit, type StepContext, type StepKind } from './step-context';

/** A setting as it should be, and as it was left last time. */
export type SettingNow = {
  id: string;
  title: string;
  unit: string;
  /** As the instrument shows it; null where it is only recorded. */ wanted: string | null;
  /** As the register has it from the last run; null where that is not known. */ last: string | null;
  options: readonly string[];
  hint: string | null;
};

const minus = (text: string) => text.replace('−', '-').replace(',', '.').trim();
const number = (text: string): number | null => {
  const parsed = parsePlainNumber(minus(text));
  return parsed.ok ? parsed.reading.value : null;
};

/**
 * Whether two settings are the same: as numbers where both are, else as words, whatever their capitals.
 * @example isSameSetting('10,0', '10.0') // true
 */
export function isSameSetting(one: string, other: string): boolean {
  const [a, b] = [number(one), number(other)];
  if (a !== null && b !== null) return Math.abs(a - b) <= 1e-9 * Math.max(Math.abs(a), Math.abs(b));
  return one.trim().toLowerCase() === other.trim().toLowerCase();
}

/** Settings that are numbers, for formulas. @example shownNumbers({ unit: 'mm', cut: '0,8' }) // { cut: 0.8 } */
export const shownNumbers = (shown: Record<string, string>): Record<string, number> =>
  Object.fromEntries(
    Object.entries(shown).flatMap(([id, text]) => {
      const value = number(text);
      return value === null ? [] : [[id, value]];
    }),
  );

/** What a step that is restored had found, the first time. */
function foundBefore({ state, step }: StepContext<'settings'>): Record<string, string> | null {
  if (step.restores === undefined) return null;
  return state.steps.find((s) => s.item.id === step.restores)?.shown ?? null;
}

/** The settings that are looked at here, in their order. */
export function settingsNow(c: StepContext<'settings'>): SettingNow[] {
  const found = foundBefore(c);
  const known = c.state.instrument.settings ?? {};
  return c.step.settings
    .filter((s) => s.when === undefined || isIn(c.setting(), s.when, scopeAt(c.setting(), c.place)))
    .map((s) => {
      const unit = unitIn(c.state, s.unit, c.place);
      const wantedNumber = typeof s.want === 'string' ? undefined : numberIn(c, s.want);
      const step = numberIn(c, s.step);
      const asTaken = (value: number) =>
        step
          ? roundToDecimals(Math.round(value / step) * step, decimalsNeeded([step]))
          : plainDecimal(Number(value.toPrecision(9)));
      const wanted =
        found?.[s.id] ?? (typeof s.want === 'string' ? s.want : wantedNumber === undefined ? null : asTaken(wantedNumber));
      return {
        id: s.id,
        title: s.title,
        unit,
        wanted,
        last: known[s.id] ?? null,
        options: s.options ?? [],
        hint: s.hint ?? null,
      };
    });
}

/**
 * What the instrument is left with: each setting as it was shown last, and those of before that no step asked for.
 * @example settingsLeft(run) // {}
 */
export const settingsLeft = (state: RunState): Record<string, string> => ({
  ...state.instrument.settings,
  ...Object.fromEntries(
    state.steps.flatMap(({ item, shown }) => (shown && isSettingsStep(state, item.id) ? Object.entries(shown) : [])),
  ),
});

const isSettingsStep = (state: RunState, id: string): boolean => stepNamed(state.procedure, id)?.kind === 'settings';

/** Settings that are shown other than they are wanted. */
export const settingsOff = (now: readonly SettingNow[], shown: Record<string, string>): SettingNow[] =>
  now.filter((s) => s.wanted !== null && shown[s.id] !== undefined && !isSameSetting(shown[s.id]!, s.wanted));

const withItsUnit = (text: string, unit: string): string => {
  const value = number(text);
  return value === null || unit === '' ? text : withUnit(value, unit);
};

/**
 * What the instrument holds, expected beside shown. As found a difference is recorded and left; whatever is decided about it, and any
 * difference later, wants a reason.
 */
export const settings: StepKind<'settings'> = {
  admit: (c, act) => {
    const now = settingsNow(c);
    const shown = act.shown ?? {};
    const missing = now.find((s) => (shown[s.id] ?? '').trim() === '');
    if (missing) return refuse(`${missing.title}: type what the instrument shows.`, 'shown', missing.id);
    const strange = Object.keys(shown).find((id) => !now.some((s) => s.id === id));
    if (strange !== undefined) return refuse(`"${strange}" is not asked for here.`, 'shown', strange);
    for (const s of now) {
      if (s.options.length > 0 && !s.options.some((o) => isSameSetting(o, shown[s.id]!)))
        return refuse(`${s.title}: it can hold ${s.options.join(', ')}.`, 'shown', s.id);
      if (s.unit !== '' && number(shown[s.id]!) === null) return refuse(`${s.title}: type a number in ${s.unit}.`, 'shown', s.id);
    }
    if (JSON.stringify(act.value) !== JSON.stringify(shownNumbers(shown)))
      return refuse('The numbers recorded are not those shown.', 'value');
    const off = settingsOff(now, shown);
    if (off.length === 0 || act.reason) return null;
    const said = off
      .map((s) => `${s.title} shows ${withItsUnit(shown[s.id]!, s.unit)}, ${withItsUnit(s.wanted!, s.unit)} is wanted`)
      .join('; ');
    const isFound = c.place.set === 'as-found' || c.place.set === 'quick';
    return refuse(
      isFound
        ? `${said}. It is recorded as found: leave it until it is decided, and say what is known of it.`
        : `${said}. Set it as wanted and type it again, or give the reason for leaving it.`,
      'reason',
    );
  },
  sentence: ({ step }) => step.ask ?? 'What does it hold now?',
  said: (step, { shown, reason }) =>
    `${step.settings
      .flatMap((s) => {
        const text = shown?.[s.id];
        if (text === undefined) return [];
        const unit = typeof s.unit === 'string' ? s.unit : '';
        const isOff = typeof s.want === 'string' || typeof s.want === 'number' ? !isSameSetting(text, String(s.want)) : false;
        return [`${s.title} ${withItsUnit(text, unit)}${isOff ? ` (${withItsUnit(String(s.want), unit)} wanted)` : ''}`];
      })
      .join('; ')}${reason ? `: ${reason}` : ''}`,
};
