import * as z from 'zod';
import { plainDecimal } from '../../core/quantity/rounding';
import { typedNumber, typedText } from '../../ui/form/typed';
import { LineForm } from './LineForm';

const schema = z.object({ day: typedText, count: typedNumber });

type Props = {
  instrument: string;
  counts: readonly { day: string; count: number }[];
  unit: 'h' | 'cycles';
  today: string;
};

/** What the counter of hours or cycles showed last, and what it shows now. */
export function NoteCount({ instrument, counts, unit, today }: Props) {
  const last = counts.at(-1);
  return (
    <LineForm
      said={
        <>
          Counter: <span className="figure font-bold">{last ? `${plainDecimal(last.count)} ${unit}` : 'never noted'}</span>
          {last && `, ${last.day}`}
        </>
      }
      instrument={instrument}
      to="POST /api/instruments/[id]/counts"
      schema={schema}
      initially={{ day: today, count: '' }}
      fields={[
        { name: 'count', title: 'It shows', type: 'number', unit },
        { name: 'day', title: 'on', type: 'day' },
      ]}
      does="Note it"
      // Noted once more after it was said that it fell: it was looked at.
      more={(before) => (before?.details['fallen'] === true ? { isSetBack: true } : {})}
    />
  );
}
