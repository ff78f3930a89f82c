import { numberAt } from '../core/state/run-scope';
import { settingIn } from '../core/run/run-results';
import { placedPoint, type RunState, type Slot } from '../core/state/run-state';
import { columnOf } from '../core/steps/step-context';
import { normalDeviate } from './random';
import type { Truth } from './truths';

type Random = () => number;
type Shows = (state: RunState, slot: Slot, random: Random) => { value: number; step: number };

const near = (value: number, spread: number, random: Random, decimals = 1): string =>
  (value + spread * (random() - 0.5)).toFixed(decimals);

/** A number of the document where a reading stands. */
function formula(state: RunState, slot: Slot, is: string): number {
  const { repeat: _repeat, observation: _observation, ...place } = slot;
  return numberAt(settingIn(state, slot.set), { is }, place) ?? 0;
}
const nominalAt = (state: RunState, slot: Slot): number => placedPoint(state, slot)?.nominal ?? 0;
const column = (state: RunState, slot: Slot, name: string): number => Number(columnOf(state, name, slot));

const conditions: Record<string, (random: Random) => string> = {
  pressure: (r) => near(1006, 12, r, 0),
  humidity: (r) => near(48, 8, r, 0),
};

/** A truth of which only what is shown, what is stored and what time does to it is told. */
const truth = (shows: Shows, more: Partial<Truth> & { ages: Truth['ages']; spoil: Truth['spoil'] }, room = 21.2): Truth => ({
  shows,
  condition: (id, r) => conditions[id]?.(r) ?? near(room, 0.8, r),
  measured: () => 0,
  stored: (_id, proposed) => ({ before: '0', after: String(proposed ?? 0) }),
  adjusted: () => undefined,
  ...more,
});

/** A calliper with its zero, its slope and jaws that have worn at the tips. mm. */
export function calliperTruth(random: Random): Truth {
  let zero = 0.004 * normalDeviate(random);
  const slope = 0.00003 * normalDeviate(random);
  const wear = 0.003 * random();
  return truth(
    (state, slot, r) => {
      const standard = formula(state, slot, slot.series === 'inside' ? 'ring.value' : 'blocks.value');
      const tip = slot.each === 'tips' ? wear : 0;
      return { value: standard + zero + slope * standard + tip + 0.002 * normalDeviate(r), step: state.instrument.resolution };
    },
    {
      stored: (_id, proposed) => ({ before: '0.00', after: (proposed ?? -zero).toFixed(2) }),
      adjusted: (_id, stored) => {
        zero += stored['shift'] ?? 0;
      },
      ages: (r) => {
        zero += 0.003 * normalDeviate(r);
      },
      spoil: () => {
        zero = 0.042;
      },
    },
    20.4,
  );
}

/** Each range with its own gain, and a stylus that wears. µm and %. */
export function roughnessTruth(random: Random): Truth {
  const off: Record<string, number> = {
    fine: 3 * normalDeviate(random),
    middle: 2 * normalDeviate(random),
    coarse: 2 * normalDeviate(random),
  };
  const held: Record<string, number> = { fine: 0, middle: 0, coarse: 0 };
  let worn = 0.01 + 0.02 * random();
  let adjusting = 'fine';
  return truth(
    (state, slot, r) => {
      if (slot.series === 'stylus')
        return { value: formula(state, slot, 'fine.value') * (1 - worn + 0.004 * normalDeviate(r)), step: 0.001 };
      const each = slot.each!;
      adjusting = each;
      const share = (1 + off[each]! / 100) * (1 + held[each]! / 100) + 0.006 * normalDeviate(r);
      return { value: formula(state, slot, 'specimens.value') * share, step: column(state, slot, 'step') };
    },
    {
      stored: (_id, proposed) => ({ before: '0.0', after: (proposed ?? 0).toFixed(1) }),
      adjusted: (_id, stored) => {
        const worst = Object.keys(off).reduce(
          (a, b) => (Math.abs(off[b]! + held[b]!) > Math.abs(off[a]! + held[a]!) ? b : a),
          adjusting,
        );
        held[worst] = stored['gain'] ?? 0;
      },
      ages: (r) => {
        worn += 0.006 * r();
        for (const range of Object.keys(off)) off[range]! += 0.6 * normalDeviate(r);
      },
      spoil: () => {
        off['middle'] = 14;
      },
    },
  );
}

/** Vessels that stand a little off their shafts. mm and degrees. */
export function vesselTruth(random: Random): Truth {
  const eccentric: Record<string, number> = {};
  const wobble = 0.1 + 0.2 * random();
  const tilt = 0.3 * random();
  let spoilt: string | null = null;
  const offOf = (each: string, r: Random) => (eccentric[each] ??= 0.2 + 0.4 * r());
  return truth(
    (_state, slot, r) => {
      const small = 0.01 * normalDeviate(r);
      if (slot.series === 'plate') return { value: 0.15 + small, step: 0.05 };
      if (slot.series === 'height') return { value: 25.1 + 0.2 * normalDeviate(r), step: 0.01 };
      if (slot.series === 'wobble') return { value: slot.observation === 'hi' ? 1 + wobble + small : 1 + small, step: 0.01 };
      const off = spoilt === slot.each ? 2.3 : offOf(slot.each!, r);
      const lower = slot.point === 'lower' || slot.point === 'p2' ? 1.1 : 1;
      const side = 5 + (lower > 1 ? 80 * Math.tan((tilt * Math.PI) / 180) : 0);
      const value = slot.observation === 'hi' ? 5 + off * lower : slot.observation === 'lo' ? 5 - off * lower : side;
      return { value: value + small, step: 0.01 };
    },
    {
      measured: () => 80,
      adjusted: () => {
        if (spoilt) eccentric[spoilt] = 0.2;
        spoilt = null;
      },
      ages: (r) => {
        for (const each of Object.keys(eccentric)) eccentric[each] = Math.max(0.1, eccentric[each]! + 0.1 * normalDeviate(r));
      },
      spoil: () => {
        spoilt = '2';
      },
    },
    22.4,
  );
}

/** A sensor that drifts at both ends, with a correction stored for each. % relative humidity. */
export function humidityTruth(random: Random): Truth {
  let [low, high] = [0.4 * normalDeviate(random), 0.5 * normalDeviate(random)];
  let held = { low: 0, high: 0 };
  return truth(
    (state, slot, r) => {
      if (slot.observation === 'T') return { value: 22.6 + 0.02 * normalDeviate(r), step: 0.01 };
      const at = slot.series === 'low' ? 33 + low + held.low : 75.4 + high + held.high;
      return { value: at + 0.03 * normalDeviate(r), step: state.instrument.resolution };
    },
    {
      // Of the box, overnight and in the morning.
      measured: () => 22.5,
      stored: (id, proposed) => ({ before: held[id as 'low' | 'high'].toFixed(1), after: (proposed ?? 0).toFixed(1) }),
      adjusted: (_id, stored) => {
        held = { low: stored['low'] ?? held.low, high: stored['high'] ?? held.high };
      },
      ages: (r) => {
        low += 0.2 * normalDeviate(r);
        high += 0.35 * normalDeviate(r);
      },
      spoil: () => {
        high += 2.4;
      },
    },
    22.5,
  );
}

/** Weights that lose or gain a little over the years, on a comparator that drifts during a cycle. g. */
export function weightsTruth(random: Random): Truth {
  const off = new Map<string, number>();
  let spoilt = false;
  return truth(
    (state, slot, r) => {
      const nominal = nominalAt(state, slot);
      if (!off.has(slot.point)) off.set(slot.point, 0.25 * normalDeviate(random));
      const limit = formula(state, slot, 'mpe(point.nominal)') / 1000;
      const test = slot.observation.startsWith('T') ? limit * (spoilt && slot.point === 'p3' ? -1.3 : off.get(slot.point)!) : 0;
      const step = formula(state, slot, 'comparator.resolution');
      return { value: nominal + test + 0.4 * step * normalDeviate(r), step };
    },
    {
      ages: (r) => {
        for (const [point, value] of off) off.set(point, value + 0.05 * normalDeviate(r));
      },
      spoil: () => {
        spoilt = true;
      },
    },
  );
}

/** A calibrator whose level falls slowly. dB, Hz and %. */
export function soundTruth(random: Random): Truth {
  let level = 0.05 * normalDeviate(random);
  const frequency = 1000 + 0.6 * normalDeviate(random);
  return truth(
    (_state, slot, r) => {
      switch (slot.observation) {
        case 'A':
          return { value: 94.01 + 0.008 * normalDeviate(r), step: 0.01 };
        case 'B':
          return { value: 93.98 + level + 0.008 * normalDeviate(r), step: 0.01 };
        case 'f':
          return { value: frequency + 0.02 * normalDeviate(r), step: 0.01 };
        default:
          return { value: 0.8 + 0.02 * normalDeviate(r), step: 0.01 };
      }
    },
    {
      // Its trimmer is turned until the level is as stated; it holds no number.
      adjusted: () => {
        level = 0.01;
      },
      ages: (r) => {
        level -= 0.02 + 0.02 * r();
      },
      spoil: () => {
        level = -0.33;
      },
    },
    22.8,
  );
}

/** A meter with a gain in each function. */
export function multimeterTruth(random: Random): Truth {
  const gains: Record<string, number> = Object.fromEntries(
    ['dcv', 'acv', 'dca', 'ohm'].map((f) => [f, 0.0001 * normalDeviate(random)]),
  );
  return truth(
    (state, slot, r) => {
      const step = column(state, slot, 'step');
      // Shorted or open it shows its zero, which none of its gains moves.
      const gain = gains[slot.series];
      return { value: (gain === undefined ? 0 : nominalAt(state, slot) * (1 + gain)) + 0.2 * step * normalDeviate(r), step };
    },
    {
      measured: () => 11,
      adjusted: () => {
        for (const f of Object.keys(gains)) gains[f] = 0.00002;
      },
      ages: (r) => {
        for (const f of Object.keys(gains)) gains[f]! += 0.00004 * normalDeviate(r);
      },
      spoil: () => {
        gains['dcv'] = 0.0016;
      },
    },
    23,
  );
}

/** A gloss meter whose lamp ages; the value of the glass that it holds is off by what it reads wrong. */
export function glossTruth(random: Random): Truth {
  let off = 0.3 * normalDeviate(random);
  return truth(
    (state, slot, r) => {
      const use = { gloss: 'glass', haze: 'tile', tileCheck: 'check' }[slot.series]!;
      return {
        value: formula(state, slot, `${use}.value`) + (slot.series === 'haze' ? 0.3 : off) + 0.05 * normalDeviate(r),
        step: 0.1,
      };
    },
    {
      measured: () => 92.8,
      stored: (_id, proposed) => ({ before: ((proposed ?? 87.2) + off).toFixed(1), after: (proposed ?? 92.8).toFixed(1) }),
      adjusted: () => {
        off = 0.05;
      },
      ages: (r) => {
        off -= 0.15 + 0.1 * r();
      },
      spoil: () => {
        off = -1.9;
      },
    },
    22,
  );
}
