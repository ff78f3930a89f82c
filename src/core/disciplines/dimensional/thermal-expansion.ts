/** Temperature at which lengths are stated (ISO 1). */
export const referenceTemperature = 20;

/**
 * What an instrument without error would indicate for a length standard, both away from 20 °C: the standard has grown, and so
 * has the instrument's own scale: L (1 + α_s Δt_s − α_i Δt_i), first order in αΔt (JCGM 100, H.1.2).
 * @param length certified length at 20 °C, in mm
 * @param standard and instrument: temperature in °C, linear expansion coefficient in 1/K
 * @returns mm
 */
export function lengthSeenByInstrument(
  length: number,
  standard: { temperature: number; expansionCoefficient: number },
  instrument: { temperature: number; expansionCoefficient: number },
): number {
  const grownStandard = standard.expansionCoefficient * (standard.temperature - referenceTemperature);
  const grownInstrument = instrument.expansionCoefficient * (instrument.temperature - referenceTemperature);
  return length * (1 + grownStandard - grownInstrument);
}
