import type { ProcedureDocument } from '../procedure/document-schema';
import { convert, convertDifference, findUnit, isSameKind, isTemperature, printedUnit } from '../quantity/unit';
import type { InstrumentRecord } from './case-schema';
import { DocumentError } from '../faults';

/** The unit in which a document sees the numbers of the register, and the instrument's own, where they differ. */
export type OwnUnit = { document: string; own: string };

/**
 * The two units of a case; null where they are one, or where either is not named.
 * @throws DocumentError at `instrument.unit` where one cannot become the other
 * @example ownUnitOf({ instrument: { unit: 'mm' } }, { unit: 'mm' }) // null
 */
export function ownUnitOf(doc: Pick<ProcedureDocument, 'instrument'>, instrument: { unit?: string | undefined }): OwnUnit | null {
  const document = doc.instrument.unit;
  const own = instrument.unit;
  if (document === undefined || own === undefined || own === document) return null;
  if (!isSameKind(own, document))
    throw new DocumentError(
      `This procedure is for instruments in ${printedUnit(document) || 'a pure number'}, or in a unit that converts to it; ${printedUnit(own) || 'a pure number'} does not.`,
      ['instrument', 'unit'],
    );
  return { document, own };
}

/** How a number of the document's stands in the instrument's own unit. */
export type OwnForm = {
  unit: string;
  toOwn: (value: number) => number;
  toDocument: (value: number) => number;
  isDifference: boolean;
};

/**
 * The form in which a number of this unit is shown and typed: in the instrument's own unit where its unit is exactly the document's;
 * beside a temperature a number in K is a difference. Null where it stays as declared.
 * @example ownForm(null, 'mm') // null
 */
export function ownForm(units: OwnUnit | null, unit: unknown): OwnForm | null {
  if (units === null || typeof unit !== 'string') return null;
  const { document, own } = units;
  if (unit === document)
    return {
      unit: own,
      toOwn: (v) => convert(v, document, own),
      toDocument: (v) => convert(v, own, document),
      isDifference: false,
    };
  if (unit !== 'K' || !isTemperature(document)) return null;
  // A difference is shown in K, except where the instrument counts in °F.
  if (own !== '[degF]') return null;
  return {
    unit: own,
    toOwn: (v) => convertDifference(v, 'K', own),
    toDocument: (v) => convertDifference(v, own, 'K'),
    isDifference: true,
  };
}

/** The instrument's numbers in the document's unit. */
export function inDocumentUnit(instrument: InstrumentRecord, units: OwnUnit | null): InstrumentRecord {
  if (units === null) return instrument;
  const at = (value: number | undefined) => (value === undefined ? undefined : convert(value, units.own, units.document));
  const { lower, upper, usedLower, usedUpper, resolution } = instrument;
  return {
    ...instrument,
    lower: at(lower),
    upper: at(upper),
    usedLower: at(usedLower),
    usedUpper: at(usedUpper),
    resolution: resolution === undefined ? undefined : convertDifference(resolution, units.own, units.document),
  };
}

/** Ten to a power, or that times 2 or 5: steps in which people count. */
const roundSteps = [1, 2, 5, 10];

/**
 * A step that a document states as a number, in the instrument's own unit: the nearest 1, 2 or 5 × 10ⁿ by ratio, of two equally near
 * the smaller; a power of ten stays one; where the units differ by a power of ten it is converted exactly.
 * @example stepInOwn(50, { document: 'kPa', own: '[psi]' }) // 10
 * @example stepInOwn(25, { document: 'kPa', own: 'MPa' }) // 0.025
 */
export function stepInOwn(step: number, { document, own }: OwnUnit): number {
  const exact = convertDifference(step, document, own);
  if (isPowerOfTen(convertDifference(1, document, own))) return Number(exact.toPrecision(12));
  const below = 10 ** Math.floor(Math.log10(exact) + 1e-9);
  const among = (isPowerOfTen(step) ? [1, 10] : roundSteps).map((n) => Number((n * below).toPrecision(12)));
  const apart = (candidate: number) => Math.abs(Math.log(candidate / exact));
  return among.reduce((best, candidate) => (apart(candidate) < apart(best) - 1e-9 ? candidate : best));
}

const isPowerOfTen = (value: number): boolean => {
  const power = Math.log10(value);
  return Math.abs(power - Math.round(power)) < 1e-9;
};

/** Whether a unit is one of temperature, however it is counted. */
export const isOfTemperature = (unit: string): boolean => findUnit(unit)?.kind === 'temperature';
