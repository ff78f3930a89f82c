import type { ModelInputs } from '../../procedure/budget-template';
import { referenceTemperature } from './thermal-expansion';

export type CertifiedLength = {
  /** mm */
  nominal: number;
  certified: number;
  expandedUncertainty: number;
  coverageFactor: number;
  /** 1/K */
  expansionCoefficient: number;
};

export type LengthComparison = {
  /** The blocks wrung together for this point. */
  blocks: readonly CertifiedLength[];
  yearsSinceCertificate: number;
  /** °C */
  temperatures: { standard: number; instrument: number };
  instrument: { resolution: number; expansionCoefficient: number };
};

/** Expansion coefficient of a stack: that of its blocks weighted by length, in 1/K. */
function stackExpansion(blocks: readonly CertifiedLength[]): number {
  const length = blocks.reduce((sum, b) => sum + b.nominal, 0);
  return blocks.reduce((sum, b) => sum + b.expansionCoefficient * b.nominal, 0) / length;
}

/**
 * The quantities that the model `dimensional/length-by-comparison` puts at a procedure's disposal for its budget.
 * Block uncertainties add linearly: they come from one certificate and share its systematic part, so the sum is the bound.
 * Lengths in mm, temperatures in °C or K, times in years.
 */
export function lengthComparisonInputs(comparison: LengthComparison): ModelInputs {
  const { blocks, temperatures, instrument } = comparison;
  return {
    'standard.length': blocks.reduce((sum, b) => sum + b.certified, 0),
    'standard.nominal': blocks.reduce((sum, b) => sum + b.nominal, 0),
    'standard.standardUncertainty': blocks.reduce((sum, b) => sum + b.expandedUncertainty / b.coverageFactor, 0),
    'standard.expansionCoefficient': stackExpansion(blocks),
    'standard.temperatureDeviation': temperatures.standard - referenceTemperature,
    'standard.yearsSinceCertificate': comparison.yearsSinceCertificate,
    'standard.blocks': blocks.length,
    'standard.joints': blocks.length - 1,
    'instrument.resolution': instrument.resolution,
    'instrument.expansionCoefficient': instrument.expansionCoefficient,
    'instrument.temperatureDeviation': temperatures.instrument - referenceTemperature,
    'temperature.difference': temperatures.standard - temperatures.instrument,
  };
}
