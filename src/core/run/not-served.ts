import type { InstrumentSnapshot } from '../plan/snapshots';
import { settingOf } from '../evaluate/setting-of';
import { Absent, DocumentError } from '../faults';
import { pointsOf } from '../evaluate/setting';
import type { ProcedureDocument, SeriesDocument } from '../procedure/document-schema';
import { isSameKind, printedUnit } from '../quantity/unit';
import { bareCase } from '../state/run-case';

/** Why a procedure can never serve an instrument, and the field of the register that says so. */
export type NotServed = { why: string; field: 'unit' | 'usedUpper' };

/** Points that the range of the instrument alone decides: not those of its lists, of standards or of what is chosen later. */
const isByRange = ({ points, forEach }: SeriesDocument): boolean =>
  points !== undefined && points.items === undefined && typeof points.list !== 'string' && forEach === undefined;

/**
 * Whether a procedure could serve an instrument as it stands in the register, before any standard is chosen: its unit, its range and
 * the points that follow from them. What is not known yet, such as the rows of a list, is no reason.
 * @example notServed(document, run.instrument) // null
 */
export function notServed(procedure: ProcedureDocument, instrument: InstrumentSnapshot): NotServed | null {
  const { unit } = procedure.instrument;
  if (unit !== undefined && !isSameKind(unit, instrument.unit))
    return {
      why: `An instrument of this kind is read in ${printedUnit(unit)}, or in another unit of the same quantity; ${printedUnit(instrument.unit)} is none.`,
      field: 'unit',
    };
  const s = settingOf(procedure, bareCase({ instrument, standards: {}, choices: {} }, 'as-found', '2026-01-01'), {
    planning: true,
  });
  const byRange = [...s.series.values()].filter(({ doc }) => isByRange(doc) && doc.sets.includes('as-found'));
  let points = 0;
  for (const series of byRange)
    try {
      for (const instance of series.instances) points += pointsOf(s, series, instance).length;
    } catch (error) {
      // What a standard, a step or a characteristic has still to say may serve.
      if (error instanceof Absent) return null;
      if (!(error instanceof DocumentError)) throw error;
      if (error.path[0] === 'standards' || error.path[0] === 'instrument') return null;
      return { why: `${series.doc.title}: ${error.message}`, field: 'usedUpper' };
    }
  return byRange.length > 0 && points === 0
    ? { why: 'The range to be calibrated holds none of the points of its procedure.', field: 'usedUpper' }
    : null;
}
