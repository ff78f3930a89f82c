import { Component, type ComponentType, type ReactNode } from 'react';
import { whole } from './later';

type State = { broken: boolean };

/** What stands in the place of a part that stopped: the rest of the page goes on. */
class Guard extends Component<{ children: ReactNode }, State> {
  override state: State = { broken: false };

  static getDerivedStateFromError(): State {
    return { broken: true };
  }

  override render(): ReactNode {
    if (!this.state.broken) return this.props.children;
    return (
      <div role="alert" className="fault m-4 max-w-xl p-4">
        <p className="font-bold">This part of the page has stopped.</p>
        <p className="mt-1">
          What was recorded is safe, and what was still on its way is kept in this browser. Load the page again; if it happens
          twice, tell whoever looks after this server what was done last.
        </p>
        <button type="button" className="button mt-3" autoFocus onClick={() => window.location.reload()}>
          Load the page again
        </button>
      </div>
    );
  }
}

/** An island with a guard round it: a fault in it is said in its place, and takes nothing else down. */
export function guarded<P extends object>(Part: ComponentType<P>): ComponentType<P> {
  const Guarded = (props: P) => (
    <Guard>
      <Part {...props} />
    </Guard>
  );
  Guarded.displayName = `Guarded(${Part.displayName ?? Part.name})`;
  return Guarded;
}

/** A guarded island that wakes up whole: for what is typed into from the first moment on. */
export const guardedWhole = <P extends object>(Part: ComponentType<P>): ComponentType<P> => guarded(whole(Part));
