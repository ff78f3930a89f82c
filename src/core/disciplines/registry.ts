import { background } from './acoustic/background';
import { levelDifference, levelSum, weightingA, weightingC } from './acoustic/levels';
import { circle, sphere } from './dimensional/circle-and-sphere';
import type { DisciplineAnalysis } from './discipline-analysis';
import { closedFunction, type DisciplineFunction } from './discipline-function';
import { dewPoint, salts, saturationPressure } from './humidity/humidity';
import { airDensity, waterDensity } from './mass/densities';
import { onePortCorrection } from './rf/one-port-correction';
import { reflectionLocus } from './rf/reflection-locus';
import { roughnessParameters } from './roughness/parameters';
import { callendarVanDusenFit } from './temperature/callendar-van-dusen-fit';
import { its90Temperature, prtResistance, prtTemperature } from './temperature/platinum';
import { thermocouples } from './temperature/thermocouples';

/** A length at a temperature, from its value at 20 °C. */
const lengthAt = closedFunction({
  name: 'lengthAt',
  title: 'Length at a temperature',
  discipline: 'dimensional',
  parameters: [
    { id: 'L', title: 'length at 20 °C', unit: 'mm' },
    { id: 'a', title: 'expansion coefficient', unit: 'K-1' },
    { id: 't', title: 'temperature', unit: 'Cel' },
  ],
  unit: 'mm',
  validity: 'linear expansion',
  source: 'ISO 1; JCGM 100, H.1',
  branches: [{ is: 'L * (1 + a * (t - 20))' }],
  ranges: [],
});

/** Every function that a formula or a budget may call, by name. */
export const disciplineFunctions: ReadonlyMap<string, DisciplineFunction> = new Map(
  [
    airDensity,
    waterDensity,
    prtResistance,
    prtTemperature,
    its90Temperature,
    ...thermocouples,
    ...salts,
    saturationPressure,
    dewPoint,
    lengthAt,
    weightingA,
    weightingC,
    levelSum,
    levelDifference,
  ].map((f) => [f.name, f]),
);

/** Every analysis that a series may use, by name. */
export const disciplineAnalyses: ReadonlyMap<string, DisciplineAnalysis> = new Map(
  [roughnessParameters, circle, sphere, reflectionLocus, callendarVanDusenFit, background, onePortCorrection].map((a) => [
    a.name,
    a,
  ]),
);
