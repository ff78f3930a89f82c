import { momentsOf, type CardMoment } from '../core/document/moments';
import type { ModelCard } from '../core/register/model-card';
import type { CardRequest } from '../contract/requests';
import * as cards from '../store/cards';
import { database } from '../store/database';
import { proceduresFor } from './procedure-library';
import { getInstrument } from './register-service';
import { requirePerson } from './require-person';
import { ServiceError } from './service-error';

/** What the page of a card needs: whose it is, what it says, and which moments there are. */
export type CardPage = {
  instrument: { id: string; identification: string; kind: string; designation: string };
  card: ModelCard | null;
  moments: CardMoment[];
};

export async function cardPage(id: string): Promise<CardPage> {
  const { instrument } = await getInstrument(id);
  const { identification, kind, designation } = instrument;
  const documents = (await proceduresFor(kind)).map((p) => p.document);
  return {
    instrument: { id, identification, kind, designation },
    card: await cardFor({ kind, designation }),
    moments: momentsOf(documents),
  };
}

/** The card of an instrument's make and type; null where the laboratory has written none. */
export const cardFor = async ({ kind, designation }: { kind: string; designation: string }): Promise<ModelCard | null> =>
  (await cards.cardOf(await database(), kind, designation)) ?? null;

/** Keeps a new version of a card. @throws ServiceError 409 when somebody has written another since, 422 when a moment is none of the procedures' */
export async function writeCard(id: string, request: CardRequest): Promise<number> {
  const db = await database();
  await requirePerson(db, request.person);
  const { instrument, card, moments } = await cardPage(id);
  if (request.seen !== (card?.version ?? 0))
    throw new ServiceError(409, 'Somebody has written this card meanwhile. Load the page again, and add what is yours.');
  const strange = request.lines.findIndex((l) => !moments.some((m) => m.id === l.at));
  if (strange >= 0)
    throw new ServiceError(422, `"${request.lines[strange]!.at}" is no moment of a procedure for this kind.`, [
      'lines',
      strange,
      'at',
    ]);
  return cards.appendCard(db, {
    kind: instrument.kind,
    model: instrument.designation,
    lines: request.lines,
    at: new Date().toISOString(),
    person: request.person,
  });
}
