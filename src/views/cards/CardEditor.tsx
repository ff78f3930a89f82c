import { useState } from 'react';
import { Plus, Trash2 } from 'lucide-react';
import type { CardMoment } from '../../core/document/moments';
import type { CardLine, ModelCard } from '../../core/register/model-card';
import { ask } from '../../ui/ask-server';
import { guarded } from '../../ui/guarded';
import { usePerson } from '../../ui/person';
import { SayWho } from '../../ui/SayWho';
import { kindTitle } from '../instruments/kind-title';

type Props = {
  page: {
    instrument: { id: string; identification: string; kind: string; designation: string };
    card: ModelCard | null;
    moments: CardMoment[];
  };
};

/** How it is done on this make and type, moment by moment; the procedure stays what it is. */
export const CardEditor = guarded(function CardEditor({ page: { instrument, card, moments } }: Props) {
  const person = usePerson();
  const [lines, setLines] = useState<CardLine[]>(card?.lines ?? []);
  const [seen, setSeen] = useState(card?.version ?? 0);
  const [said, setSaid] = useState<{ ok: boolean; text: string } | null>(null);
  const change = (next: CardLine[]) => {
    setLines(next);
    setSaid(null);
  };
  async function save() {
    const answer = await ask('PUT /api/instruments/[id]/card', { id: instrument.id, body: { lines, person, seen } });
    if (!answer.ok) return setSaid({ ok: false, text: answer.refusal.message });
    setSeen(answer.body.version);
    setSaid({ ok: true, text: `Kept as version ${answer.body.version}. It is shown at these moments from now on.` });
  }
  return (
    <>
      <h1>{instrument.designation}</h1>
      <p className="text-soft">
        {kindTitle(instrument.kind)}. The card of this make and type: keys, menus, holder, what the display says. It is shown at
        the moment it belongs to, for every instrument of this model.
        {card && ` Version ${card.version}, ${card.at.slice(0, 10)}, ${card.person}.`}
      </p>
      {moments.length === 0 ? (
        <p className="fault mt-4">No procedure serves this kind yet: there is no moment to write for.</p>
      ) : (
        <ol className="ruled mt-4 border-y border-rule bg-sheet" aria-label="Lines of the card">
          {moments.map((m) => (
            <MomentLines
              key={m.id}
              moment={m}
              texts={lines.filter((l) => l.at === m.id).map((l) => l.text)}
              onTexts={(texts) =>
                change(
                  moments.flatMap((other) =>
                    other.id === m.id ? texts.map((text) => ({ at: m.id, text })) : lines.filter((l) => l.at === other.id),
                  ),
                )
              }
            />
          ))}
        </ol>
      )}
      <div className="sticky bottom-0 mt-4 flex items-center gap-4 border-t border-rule bg-paper py-3">
        {person ? (
          <button type="button" className="button button-main" onClick={save}>
            Keep this card
          </button>
        ) : (
          <SayWho />
        )}
        <a href={`/instruments/${instrument.id}`} className="button button-quiet">
          To {instrument.identification}
        </a>
        {said && (
          <p className={said.ok ? '' : 'fault'} role="status">
            {said.text}
          </p>
        )}
      </div>
    </>
  );
});

/** One moment, with what the card says at it. */
function MomentLines({
  moment: m,
  texts,
  onTexts,
}: {
  moment: CardMoment;
  texts: readonly string[];
  onTexts: (texts: string[]) => void;
}) {
  return (
    <li className="grid gap-x-4 gap-y-2 px-4 py-2 sm:grid-cols-[18rem_1fr_auto]">
      <span className={texts.length > 0 ? 'pt-2 font-bold' : 'self-center'}>
        {m.title}
        <span className="block text-sm font-normal text-soft">{m.where}</span>
      </span>
      <span className="flex flex-col gap-2">
        {texts.map((text, i) => (
          <span key={i} className="flex gap-2">
            <textarea
              value={text}
              rows={2}
              maxLength={1000}
              aria-label={`${m.title}, how it is done`}
              onChange={(e) => onTexts(texts.map((t, k) => (k === i ? e.target.value : t)))}
              className="w-full"
              autoFocus={text === ''}
            />
            <button
              type="button"
              aria-label={`Remove this line of ${m.title}`}
              className="cursor-pointer p-2"
              onClick={() => onTexts(texts.filter((_, k) => k !== i))}
            >
              <Trash2 size={16} aria-hidden />
            </button>
          </span>
        ))}
      </span>
      <button type="button" className="button button-quiet self-center" onClick={() => onTexts([...texts, ''])}>
        <Plus size={16} aria-hidden /> <span className="sr-only">{m.title}: </span>a line
      </button>
    </li>
  );
}
