import boreGauge from './bore-gauge.json' with { type: 'json' };
import clampMeter from './clamp-meter.json' with { type: 'json' };
import coatingThicknessGauge from './coating-thickness-gauge.json' with { type: 'json' };
import coordinateMeasuringMachine from './coordinate-measuring-machine.json' with { type: 'json' };
import dialIndicator from './dial-indicator.json' with { type: 'json' };
import dryBlockCalibrator from './dry-block-calibrator.json' with { type: 'json' };
import flashPointTester from './flash-point-tester.json' with { type: 'json' };
import flowVolumeMeterBySyringe from './flow-volume-meter-by-syringe.json' with { type: 'json' };
import gaugeBlocksByComparison from './gauge-blocks-by-comparison.json' with { type: 'json' };
import lengthBar from './length-bar.json' with { type: 'json' };
import liquidInGlassThermometer from './liquid-in-glass-thermometer.json' with { type: 'json' };
import magneticWallThicknessGauge from './magnetic-wall-thickness-gauge.json' with { type: 'json' };
import matchedProbeAndTransmitter from './matched-probe-and-transmitter.json' with { type: 'json' };
import moistureBalance from './moisture-balance.json' with { type: 'json' };
import networkAnalyser from './network-analyser.json' with { type: 'json' };
import pistonPipetteByWeighing from './piston-pipette-by-weighing.json' with { type: 'json' };
import resistanceThermometerIndicator from './resistance-thermometer-indicator.json' with { type: 'json' };
import soundLevelMeter from './sound-level-meter.json' with { type: 'json' };
import sourceCalibrator from './source-calibrator.json' with { type: 'json' };
import thermalConductivityMeter from './thermal-conductivity-meter.json' with { type: 'json' };
import thermocoupleIndicator from './thermocouple-indicator.json' with { type: 'json' };
import torqueTransducerWithIndicator from './torque-transducer-with-indicator.json' with { type: 'json' };
import transducerWithIndicator from './transducer-with-indicator.json' with { type: 'json' };
import ultrasonicThicknessGauge from './ultrasonic-thickness-gauge.json' with { type: 'json' };
import waterActivityMeter from './water-activity-meter.json' with { type: 'json' };
import { readFamily } from '../family';

/** Families of the works that are told by data alone: what they are, their standards, and what each observation shows. */
export const families = [
  boreGauge,
  clampMeter,
  coatingThicknessGauge,
  coordinateMeasuringMachine,
  dialIndicator,
  dryBlockCalibrator,
  flashPointTester,
  flowVolumeMeterBySyringe,
  gaugeBlocksByComparison,
  lengthBar,
  liquidInGlassThermometer,
  magneticWallThicknessGauge,
  matchedProbeAndTransmitter,
  moistureBalance,
  networkAnalyser,
  pistonPipetteByWeighing,
  resistanceThermometerIndicator,
  soundLevelMeter,
  sourceCalibrator,
  thermalConductivityMeter,
  thermocoupleIndicator,
  transducerWithIndicator,
  ultrasonicThicknessGauge,
  waterActivityMeter,
  torqueTransducerWithIndicator,
].map(readFamily);
