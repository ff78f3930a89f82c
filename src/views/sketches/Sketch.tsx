import type { ReactNode } from 'react';
import type { RunState, Slot } from '../../core/state/run-state';
import { DialSketch } from './DialSketch';
import { ErrorCurve } from './ErrorCurve';
import { PanSketch } from './PanSketch';
import { ReflectionSketch } from './ReflectionSketch';
import { TrendSketch } from './TrendSketch';
import { VesselSketch } from './VesselSketch';

export type SketchProps = { state: RunState; slot: Slot };

/** What a document may ask to have drawn beside the entry, by name. */
const sketches: Record<string, (props: SketchProps) => ReactNode> = {
  scale: (props) => <ErrorCurve {...props} axis="nominal" />,
  frequency: (props) => <ErrorCurve {...props} axis="frequency" />,
  dial: DialSketch,
  pan: PanSketch,
  reflection: ReflectionSketch,
  trend: TrendSketch,
  vessel: VesselSketch,
};

/** The drawing of a series, where its document names one that is known; else nothing: the sheet alone is good. */
export function Sketch({ name, ...props }: SketchProps & { name: string | undefined }) {
  const Drawing = name === undefined ? undefined : sketches[name];
  return Drawing ? <Drawing {...props} /> : null;
}
