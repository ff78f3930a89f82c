import { DocumentError } from '../faults';
import { once } from './once';
import { noScope, numberOf, pointsOf, type Instance, type Point, type Series, type Setting } from './setting';

/** One reading that is wanted: where, in which passage, which repeat (from 0). */
export type Slot = { instance: Instance; point: Point; sweep: string | null; repeat: number };

const mostRepeats = 1000;

/** The most readings a series may ask for. */
const mostSlots = 100_000;

/** How often a point is read; a fraction counts up. */
export function repeatsOf(s: Setting, series: Series, instance: Instance, point: Point): number {
  const path = [...series.path, 'repeats'];
  const value = numberOf(s, series.doc.repeats, { ...noScope(s.given.set, path), series, instance, point });
  const repeats = Math.ceil(value - 1e-9);
  if (repeats < 1 || repeats > mostRepeats)
    throw new DocumentError(`Repeats of ${value} cannot be: from 1 to ${mostRepeats}.`, path);
  return repeats;
}

/** The slots of a series in the order in which they are read; remembered. @example slotsOf(setting, theSeries).length // 30 */
export const slotsOf = (s: Setting, series: Series): Slot[] => once(s.memo, `slots|${series.doc.id}`, () => inOrder(s, series));

function inOrder(s: Setting, series: Series): Slot[] {
  const { doc } = series;
  const sweeps = series.sweeps ?? [{ id: null, backwards: false }];
  type Tagged = Slot & { key: number[] };
  const tagged: Tagged[] = [];
  series.instances.forEach((instance, i) => {
    const points = pointsOf(s, series, instance);
    sweeps.forEach((sweep, w) => {
      const along = sweep.backwards ? [...points].reverse() : points;
      along.forEach((point, p) => {
        // Where sweeps are taken at each point, the list itself says which point comes next.
        const place = doc.by === 'point' ? points.indexOf(point) : p;
        for (let repeat = 0; repeat < repeatsOf(s, series, instance, point); repeat++) {
          const inner =
            doc.by === 'point'
              ? doc.order === 'round'
                ? [place, repeat, w]
                : [place, w, repeat]
              : doc.order === 'round'
                ? [repeat, w, place]
                : [w, place, repeat];
          // With `by` point all instances at a point come before the next; else one instance after the other.
          const key =
            doc.forEach?.by === 'point'
              ? doc.by === 'point'
                ? [inner[0]!, i, inner[1]!, inner[2]!]
                : doc.order === 'round'
                  ? [...inner, i]
                  : [w, place, i, repeat]
              : [i, ...inner];
          if (tagged.length >= mostSlots)
            throw new DocumentError(`The series ${doc.id} asks for more than ${mostSlots} readings.`, series.path);
          tagged.push({ instance, point, sweep: sweep.id, repeat, key });
        }
      });
    });
  });
  const compare = (a: number[], b: number[]): number => {
    for (let k = 0; k < a.length; k++) if (a[k] !== b[k]) return a[k]! - b[k]!;
    return 0;
  };
  return tagged.sort((a, b) => compare(a.key, b.key)).map(({ key: _key, ...slot }) => slot);
}
