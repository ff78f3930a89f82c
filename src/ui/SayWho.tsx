import { askWho } from './person';

/** Stands where nothing can be done until somebody says who is at the bench. */
export const SayWho = () => (
  <button type="button" className="button button-main" onClick={askWho}>
    Say who is at the bench
  </button>
);
