import { drawnLater } from '../../ui/later';
import { checkChartHeight, errorCurveHeight, historyHeight, survivalHeight, weekChartHeight } from './heights';

/** Charts proper: one part for all of them, with the library that draws them, fetched once the page stands. */
const drawn = () => import('./drawn');

export const HistoryChart = drawnLater(
  async () => (await drawn()).HistoryChart,
  (p) => historyHeight(p.schools.length),
);
export const CheckChart = drawnLater(
  async () => (await drawn()).CheckChart,
  () => checkChartHeight,
);
export const SurvivalChart = drawnLater(
  async () => (await drawn()).SurvivalChart,
  () => survivalHeight,
);
export const WeekChart = drawnLater(
  async () => (await drawn()).WeekChart,
  () => weekChartHeight,
);
export const ErrorCurve = drawnLater(
  async () => (await drawn()).ErrorCurve,
  () => errorCurveHeight,
);
