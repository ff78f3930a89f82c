/** Heights of the charts in CSS pixels, known before they are drawn, so that nothing jumps when they come. */
export const historyPlotHeight = 270;
/** A date a row, under the chart. */
export const dateRow = 24;
export const historyHeight = (dates: number): number => historyPlotHeight + dateRow * dates + 12;
export const checkChartHeight = 300;
export const survivalHeight = 360;
export const weekChartHeight = 190;
export const errorCurveHeight = 150;
