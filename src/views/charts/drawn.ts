export { CheckChart } from './CheckChart';
export { ErrorCurve } from './ErrorCurve';
export { HistoryChart } from './HistoryChart';
export { SurvivalChart } from './SurvivalChart';
export { WeekChart } from './WeekChart';
