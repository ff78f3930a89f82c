import { cardTexts } from '../../core/register/model-card';
import { filledText } from '../../core/run/place-words';
import type { Place } from '../../core/plan/plan-schema';
import { useRun } from './run-context';

/** How it is done on this make and type, where the laboratory's card says something of the moment; this run's numbers are filled in. */
export function CardNote({ moments, place }: { moments: readonly string[]; place: Place }) {
  const { state, known } = useRun();
  const texts = cardTexts(known.card, moments);
  if (texts.length === 0) return null;
  return (
    <aside className="border-l-4 border-verdigris bg-sheet px-3 py-2" aria-label={`On the ${state.instrument.designation}`}>
      <p className="text-sm text-soft">On the {state.instrument.designation}</p>
      {texts.map((text, i) => (
        <p key={i}>{filledText(state, text, place)}</p>
      ))}
    </aside>
  );
}
