import { describe, expect, it } from 'vitest';
import { lengthComparisonInputs } from './length-comparison';
import { lengthSeenByInstrument } from './thermal-expansion';

const steel = (temperature: number) => ({ temperature, expansionCoefficient: 1.15e-5 });

describe('lengths away from 20 °C', () => {
  it('equal materials at equal temperature see the certified length', () =>
    expect(lengthSeenByInstrument(25.0001, steel(22.5), steel(22.5))).toBe(25.0001));
  it('a warm block reads long on an instrument at 20 °C', () =>
    expect(lengthSeenByInstrument(100, steel(21), steel(20)) - 100).toBeCloseTo(0.00115, 12));
  it('a warm instrument reads short on a block at 20 °C', () =>
    expect(lengthSeenByInstrument(100, steel(20), steel(21)) - 100).toBeCloseTo(-0.00115, 12));
});

describe('what the model offers a budget', () => {
  const block = (nominal: number, certified: number) => ({
    nominal,
    certified,
    expandedUncertainty: 0.0001,
    coverageFactor: 2,
    expansionCoefficient: 1.15e-5,
  });
  const inputs = lengthComparisonInputs({
    blocks: [block(19, 19.0002), block(1.2, 1.1999)],
    yearsSinceCertificate: 1.5,
    temperatures: { standard: 20.4, instrument: 20.1 },
    instrument: { resolution: 0.001, expansionCoefficient: 1.15e-5 },
  });
  it('sums certified lengths and adds block uncertainties linearly', () => {
    expect(inputs['standard.length']).toBeCloseTo(20.2001, 10);
    expect(inputs['standard.standardUncertainty']).toBeCloseTo(0.0001, 12);
    expect(inputs['standard.joints']).toBe(1);
  });
  it('gives temperatures as deviations and their difference', () => {
    expect(inputs['standard.temperatureDeviation']).toBeCloseTo(0.4, 10);
    expect(inputs['temperature.difference']).toBeCloseTo(0.3, 10);
  });
});
