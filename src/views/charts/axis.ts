import { withPrintedUnit } from '../../core/run/shown-value';

/** How axes are drawn in every chart. */
export const axisStyle = {
  stroke: 'var(--color-soft)',
  tick: { fill: 'var(--color-soft)', fontSize: 13 },
};

/** A number on an axis, with its unit and a proper minus. */
export const onAxis = (value: number, unit: string): string =>
  withPrintedUnit(String(Number(value.toPrecision(6))).replace('-', '−'), unit);
