import * as z from 'zod';
import type { InstrumentHistory } from '../../core/interval/history';
import { shownNumber, typedNumber, typedText } from '../../ui/form/typed';
import { LineForm } from './LineForm';

const outSchema = z.object({ place: typedText });
const backSchema = z.object({ used: typedNumber });

/** Takes an instrument out to be used, and back with what it was used for: hours by the clock are offered. */
export function Outing({ instrument, out, unit }: { instrument: string; out: InstrumentHistory['out']; unit: 'h' | 'cycles' }) {
  return out ? (
    <LineForm
      said={
        <>
          Out since <span className="figure font-bold">{out.since}</span>: {[out.person, out.place].filter(Boolean).join(', ')}
        </>
      }
      instrument={instrument}
      to="POST /api/instruments/[id]/back"
      schema={backSchema}
      initially={{ used: unit === 'h' ? shownNumber(out.hours) : '' }}
      fields={[{ name: 'used', title: 'Used meanwhile', type: 'number', unit, isWanted: true }]}
      does="It is back"
    />
  ) : (
    <LineForm
      said="Here."
      instrument={instrument}
      to="POST /api/instruments/[id]/out"
      schema={outSchema}
      initially={{ place: '' }}
      fields={[{ name: 'place', title: 'It goes to', type: 'text' }]}
      does="Take it out"
    />
  );
}
