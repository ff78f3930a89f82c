/** A unit by its UCUM code: how people see it, what it measures, and its exact factor to the base unit of that kind. */
export type Unit = {
  code: string;
  printed: string;
  kind: string;
  /** Value in the base unit = value × numerator / denominator + offset, each exact. */
  numerator: number;
  denominator: number;
  offset?: number;
};

const unit = (code: string, printed: string, kind: string, numerator = 1, denominator = 1, offset?: number): Unit => ({
  code,
  printed,
  kind,
  numerator,
  denominator,
  ...(offset === undefined ? {} : { offset }),
});

/**
 * Units the product converts. Base units are SI. Inch = 25.4 mm, pound = 0.45359237 kg and standard gravity 9.80665 m/s² are
 * exact by definition (SI Brochure; NIST SP 811, B.8). A temperature and a temperature difference are different kinds.
 */
const units: Unit[] = [
  unit('m', 'm', 'length'),
  unit('cm', 'cm', 'length', 1, 100),
  unit('mm', 'mm', 'length', 1, 1e3),
  unit('um', 'µm', 'length', 1, 1e6),
  unit('nm', 'nm', 'length', 1, 1e9),
  unit('[in_i]', 'in', 'length', 254, 1e4),
  unit('[mil_i]', 'mil', 'length', 254, 1e7),
  unit('u[in_i]', 'µin', 'length', 254, 1e10),
  unit('[ft_i]', 'ft', 'length', 3048, 1e4),
  unit('kg', 'kg', 'mass'),
  unit('g', 'g', 'mass', 1, 1e3),
  unit('mg', 'mg', 'mass', 1, 1e6),
  unit('ug', 'µg', 'mass', 1, 1e9),
  unit('[lb_av]', 'lb', 'mass', 45359237, 1e8),
  unit('[oz_av]', 'oz', 'mass', 45359237, 16e8),
  unit('K', 'K', 'temperature'),
  unit('Cel', '°C', 'temperature', 1, 1, 273.15),
  unit('[degF]', '°F', 'temperature', 5, 9, 459.67),
  unit('Pa', 'Pa', 'pressure'),
  unit('hPa', 'hPa', 'pressure', 100),
  unit('mbar', 'mbar', 'pressure', 100),
  unit('kPa', 'kPa', 'pressure', 1e3),
  unit('MPa', 'MPa', 'pressure', 1e6),
  unit('bar', 'bar', 'pressure', 1e5),
  unit('[psi]', 'psi', 'pressure', 4448.2216152605, 0.64516),
  // Conventional columns: water at 1 kg/L, mercury at 13.5951 kg/L, standard gravity (NIST SP 811, B.8).
  unit('m[H2O]', 'mH₂O', 'pressure', 9806.65),
  unit("[in_i'H2O]", 'inH₂O', 'pressure', 249.08891),
  unit('m[Hg]', 'mHg', 'pressure', 133_322.387415),
  unit("[in_i'Hg]", 'inHg', 'pressure', 3386.388640341),
  unit('atm', 'atm', 'pressure', 101_325),
  unit('N', 'N', 'force'),
  unit('kN', 'kN', 'force', 1e3),
  unit('[lbf_av]', 'lbf', 'force', 4448221615260.5, 1e12),
  unit('kgf', 'kgf', 'force', 9.80665),
  unit('N.m', 'N·m', 'torque'),
  unit('[lbf_av].[in_i]', 'lbf·in', 'torque', 4448221615260.5 * 254, 1e16),
  unit('[lbf_av].[ft_i]', 'lbf·ft', 'torque', 4448221615260.5 * 3048, 1e16),
  unit('[ozf_av].[in_i]', 'ozf·in', 'torque', 4448221615260.5 * 254, 16e16),
  unit('kgf.m', 'kgf·m', 'torque', 9.80665),
  unit('V', 'V', 'voltage'),
  unit('mV', 'mV', 'voltage', 1, 1e3),
  unit('uV', 'µV', 'voltage', 1, 1e6),
  unit('A', 'A', 'current'),
  unit('mA', 'mA', 'current', 1, 1e3),
  unit('uA', 'µA', 'current', 1, 1e6),
  unit('Ohm', 'Ω', 'resistance'),
  unit('kOhm', 'kΩ', 'resistance', 1e3),
  unit('s', 's', 'time'),
  unit('ms', 'ms', 'time', 1, 1e3),
  unit('min', 'min', 'time', 60),
  unit('h', 'h', 'time', 3600),
  unit('Hz', 'Hz', 'frequency'),
  unit('kHz', 'kHz', 'frequency', 1e3),
  unit('L', 'L', 'volume', 1, 1e3),
  unit('mL', 'mL', 'volume', 1, 1e6),
  unit('1', '', 'ratio'),
  unit('%', '%', 'ratio', 1, 100),
  unit('[ppm]', 'ppm', 'ratio', 1, 1e6),
  unit('dB', 'dB', 'level'),
  unit('B', 'B', 'level', 10),
  // 1 Np = (20 / ln 10) dB (ISO 80000-3).
  unit('Np', 'Np', 'level', 20, Math.LN10),
  unit('K-1', 'K⁻¹', 'expansion'),
  unit('W', 'W', 'power'),
  unit('J', 'J', 'energy'),
  unit('C', 'C', 'charge'),
  unit('F', 'F', 'capacitance'),
  unit('H', 'H', 'inductance'),
  unit('S', 'S', 'conductance'),
  unit('T', 'T', 'magnetic flux density'),
  unit('lx', 'lx', 'illuminance'),
  unit('cd', 'cd', 'luminous intensity'),
  unit('mol', 'mol', 'amount of substance'),
  unit('rad', 'rad', 'angle'),
  unit('deg', '°', 'angle', Math.PI, 180),
  unit("'", '′', 'angle', Math.PI, 10_800),
  unit("''", '″', 'angle', Math.PI, 648_000),
  unit('m2', 'm²', 'area'),
  unit('cm2', 'cm²', 'area', 1, 1e4),
  unit('mm2', 'mm²', 'area', 1, 1e6),
  unit('m3', 'm³', 'volume'),
  unit('cm3', 'cm³', 'volume', 1, 1e6),
  unit('mm3', 'mm³', 'volume', 1, 1e9),
  unit('m/s', 'm/s', 'speed'),
  unit('km/h', 'km/h', 'speed', 5, 18),
  unit('m/s2', 'm/s²', 'acceleration'),
  unit('kg/m3', 'kg/m³', 'density'),
  unit('g/cm3', 'g/cm³', 'density', 1e3),
  unit('g/L', 'g/L', 'density'),
  unit('mg/L', 'mg/L', 'density', 1, 1e3),
  unit('m3/s', 'm³/s', 'flow'),
  unit('m3/h', 'm³/h', 'flow', 1, 3600),
  unit('L/s', 'L/s', 'flow', 1, 1e3),
  unit('L/min', 'L/min', 'flow', 1, 6e4),
  unit('L/h', 'L/h', 'flow', 1, 3.6e6),
  unit('mL/min', 'mL/min', 'flow', 1, 6e7),
];

/** SI prefixes by their UCUM letters, as powers of ten. */
const prefixes: Record<string, number> = {
  da: 1,
  d: -1,
  c: -2,
  m: -3,
  u: -6,
  n: -9,
  p: -12,
  f: -15,
  h: 2,
  k: 3,
  M: 6,
  G: 9,
  T: 12,
};

/** Codes that take a prefix. */
const prefixable = new Set([
  'm',
  'g',
  'Pa',
  'N',
  'N.m',
  'V',
  'A',
  'Ohm',
  's',
  'Hz',
  'L',
  'W',
  'J',
  'C',
  'F',
  'H',
  'S',
  'T',
  'lx',
  'cd',
  'mol',
  'rad',
  'bar',
  'm[H2O]',
  'm[Hg]',
]);

/** A unit with a prefix that is not listed by itself, such as `kN.m` or `GOhm`. */
function prefixed(code: string): Unit | undefined {
  for (const [letters, power] of Object.entries(prefixes)) {
    const base =
      code.startsWith(letters) && prefixable.has(code.slice(letters.length)) ? byCode.get(code.slice(letters.length)) : undefined;
    if (!base) continue;
    const shown = (letters === 'u' ? 'µ' : letters) + base.printed;
    return power > 0
      ? unit(code, shown, base.kind, base.numerator * 10 ** power, base.denominator)
      : unit(code, shown, base.kind, base.numerator, base.denominator * 10 ** -power);
  }
  return undefined;
}

const byCode = new Map(units.map((u) => [u.code, u]));

export const unitCodes = units.map((u) => u.code);

/** Kinds of quantity that units made of others measure by another name. */
const kindsByParts: Record<string, string> = {
  'length/time': 'speed',
  'length/time2': 'acceleration',
  'mass/length3': 'density',
  'length3/time': 'flow',
  'force/length2': 'pressure',
  'force.length': 'torque',
  length2: 'area',
  length3: 'volume',
  '1/temperature': 'expansion',
  'ratio/temperature': 'expansion',
};

/** Kinds that are a power of another. */
const powersOfKinds: Record<string, [string, number]> = { area: ['length', 2], volume: ['length', 3] };

/** One part of a composed unit: what stands before it, a bracket, its name, its power. */
const partOfUnit = /([./]?)(\(?)((?:[A-Za-z%]|\[[^\]]*\])+|1)(-?\d)?(\)?)/y;

/** A unit made of others, such as `W/(m.K)` or `um/m`; undefined where a part is not known. A degree in it is a difference. */
function composed(code: string): Unit | undefined {
  const powers = new Map<string, number>();
  let [numerator, denominator, isBelow] = [1, 1, false];
  for (partOfUnit.lastIndex = 0; partOfUnit.lastIndex < code.length;) {
    const found = partOfUnit.exec(code);
    const [, mark, opens, name = '', raised, closes] = found ?? [];
    const known = name === '1' ? unit('1', '', 'ratio') : (byCode.get(name) ?? prefixed(name));
    if (!found || !known) return undefined;
    if (opens && mark === '/') isBelow = true;
    const power = (mark === '/' || isBelow ? -1 : 1) * Number(raised ?? 1);
    if (closes) isBelow = false;
    const [above, below] = power > 0 ? [known.numerator, known.denominator] : [known.denominator, known.numerator];
    numerator *= above ** Math.abs(power);
    denominator *= below ** Math.abs(power);
    const [kind, times] = powersOfKinds[known.kind] ?? [known.kind, 1];
    if (name !== '1') powers.set(kind, (powers.get(kind) ?? 0) + power * times);
  }
  const side = (sign: 1 | -1): string =>
    [...powers]
      .filter(([, power]) => power * sign > 0)
      .map(([kind, power]) => kind + (Math.abs(power) === 1 ? '' : String(Math.abs(power))))
      .sort()
      .join('.');
  const kind = (side(1) || '1') + (side(-1) && `/${side(-1)}`);
  return unit(code, printedParts(code), kind === '1' ? 'proportion' : (kindsByParts[kind] ?? kind), numerator, denominator);
}

const composedUnits = new Map<string, Unit | null>();

/** The unit of a UCUM code, or undefined when the product does not know it. @example findUnit('um').code // 'um' */
export function findUnit(code: string): Unit | undefined {
  const known = byCode.get(code) ?? prefixed(code);
  if (known) return known;
  if (!/[./]|\d$/.test(code)) return undefined;
  if (!composedUnits.has(code)) {
    if (composedUnits.size > 500) composedUnits.clear();
    composedUnits.set(code, composed(code) ?? null);
  }
  return composedUnits.get(code) ?? undefined;
}

/**
 * Whether two units measure the same kind of quantity, so that one can become the other. Units that are not known are of one kind only
 * where they are the same.
 * @example isSameKind('[psi]', 'kPa') // true
 * @example isSameKind('N.m', 'J') // false: torque is not energy
 */
export function isSameKind(a: string, b: string): boolean {
  if (a === b) return true;
  const kind = findUnit(a)?.kind;
  return kind !== undefined && kind === findUnit(b)?.kind;
}

/**
 * Whether a number in this unit is a temperature with a zero of its own, and not a difference.
 * @example isTemperature('Cel') // true
 */
export const isTemperature = (code: string): boolean => code === 'Cel' || code === '[degF]';

const raised: Record<string, string> = { '-': '⁻', '1': '¹', '2': '²', '3': '³', '4': '⁴' };

/** A unit made of others, such as `W/(m.K)`: each part as people see it, with a middle dot and raised powers. */
const printedParts = (code: string): string =>
  code
    .replace(/\[[^\]]*\]|[A-Za-z%]+(?:\[[^\]]*\])?/g, (part) => (byCode.get(part) ?? prefixed(part))?.printed || part)
    .replace(/(?<=\p{L})-?[1-4]/gu, (power) => [...power].map((c) => raised[c]).join(''))
    .replaceAll('.', '·');

/**
 * What people see for a unit code: `um` is µm, `Cel` is °C, `W/(m.K)` is W/(m·K). A code of nothing known is shown as it is.
 * @example printedUnit('um') // 'µm'
 */
export function printedUnit(code: string): string {
  return findUnit(code)?.printed ?? (/^[A-Za-z%/.()\d-]+$/.test(code) ? printedParts(code) : code);
}

/**
 * The unit of what is compared when their difference is in another: two temperatures in °C differ by K.
 * @example unitOfCompared('um', 'mm') // 'um'
 */
export const unitOfCompared = (difference: string, indication: string): string =>
  difference === 'K' && findUnit(indication)?.kind === 'temperature' ? indication : difference;

/**
 * The code of a unit as people write it: `µm`, `um` and `μm` (the Greek letter) are um. Undefined when it is none.
 * @example unitCode('µm') // 'um'
 */
export function unitCode(written: string): string | undefined {
  const text = written.trim().replaceAll('\u03bc', 'µ').replaceAll('\u2126', 'Ω');
  if (text === '') return undefined;
  return findUnit(text)?.code ?? units.find((u) => u.printed === text)?.code ?? findUnit(text.replace(/^µ/, 'u'))?.code;
}

function pair(from: string, to: string): [Unit, Unit] {
  const a = findUnit(from);
  const b = findUnit(to);
  if (!a || !b) throw new RangeError(`The unit "${a ? to : from}" is not known.`);
  if (a.kind !== b.kind)
    throw new RangeError(
      `${a.printed || a.code} measures ${a.kind} and ${b.printed || b.code} measures ${b.kind}: one cannot become the other.`,
    );
  return [a, b];
}

/** One multiplication and one division, so that exact factors stay exact wherever a double can hold the answer. */
function scale(value: number, a: Unit, b: Unit): number {
  return (value * (a.numerator * b.denominator)) / (a.denominator * b.numerator);
}

/**
 * Converts a value between two units of one kind. Temperatures are converted as temperatures (with their zero).
 * @throws RangeError for an unknown unit or two units of different kinds
 * @example convert(1, '[in_i]', 'mm') // 25.4
 */
export function convert(value: number, from: string, to: string): number {
  const [a, b] = pair(from, to);
  if (from === to) return value;
  if (a.offset === undefined && b.offset === undefined) return scale(value, a, b);
  if (from === '[degF]' && to === 'Cel') return ((value - 32) * 5) / 9;
  if (from === 'Cel' && to === '[degF]') return (value * 9) / 5 + 32;
  // Offsets are written in the unit itself: K = (value + offset) × factor, so 20 Cel is exactly 293.15 K.
  return ((value + (a.offset ?? 0)) * (a.numerator * b.denominator)) / (a.denominator * b.numerator) - (b.offset ?? 0);
}

/**
 * Converts a difference or an uncertainty: as `convert`, but a temperature difference has no zero to move.
 * @example convertDifference(1, 'Cel', '[degF]') // 1.8
 */
export function convertDifference(value: number, from: string, to: string): number {
  const [a, b] = pair(from, to);
  return from === to ? value : scale(value, a, b);
}
