import { runState } from '../../acts/fold';
import { actSchema } from '../../acts/registry';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type * as z from 'zod';
import { readDocument } from '../../document/read-document';
import { documentSchema } from '../../procedure/document-schema';
import { verdictAsFound } from '../../run/run-results';
import { itemKey } from '../../state/place-keys';
import { readLog, type StoredEvent } from '../read-log';
import { actSchema as keptActs } from './acts';
import { readKeptDocument } from './document';

type Def = {
  type: string;
  shape?: Record<string, z.ZodType>;
  element?: z.ZodType;
  innerType?: z.ZodType;
  valueType?: z.ZodType;
  options?: z.ZodType[];
  in?: z.ZodType;
};
const defOf = (schema: z.ZodType): Def => schema.def as unknown as Def;
const isDefault = (schema: z.ZodType): boolean => {
  const def = defOf(schema);
  return def.type === 'default' || (def.type === 'optional' && isDefault(def.innerType!));
};

/** A value as the living shape walks through it, each object changed by `change`, which is told what stands for each of its members. */
function walked(
  schema: z.ZodType,
  value: unknown,
  change: (object: Record<string, unknown>, shape: Record<string, z.ZodType>) => Record<string, unknown>,
): unknown {
  const def = defOf(schema);
  const on = (s: z.ZodType, v: unknown) => walked(s, v, change);
  if (value === undefined || value === null || typeof value !== 'object') return value;
  if (def.innerType) return on(def.innerType, value);
  if (def.in) return on(def.in, value);
  if (def.options) {
    const meant = def.options.find((o) => o.safeParse(value).success);
    return meant ? on(meant, value) : value;
  }
  if (def.element) return (value as unknown[]).map((v) => on(def.element!, v));
  if (def.valueType) return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, on(def.valueType!, v)]));
  if (!def.shape) return value;
  const { shape } = def;
  return change(Object.fromEntries(Object.entries(value).map(([k, v]) => [k, shape[k] ? on(shape[k], v) : v])), shape);
}

/** Without every member that says what its absence says too. @returns it, and how many were taken out */
function bare(schema: z.ZodType, value: unknown): { value: unknown; taken: Set<string> } {
  const taken = new Set<string>();
  const without = walked(schema, value, (object, shape) =>
    Object.fromEntries(
      Object.entries(object).filter(([k, v]) => {
        if (!shape[k] || !isDefault(shape[k])) return true;
        const stands = shape[k].safeParse(undefined);
        const isSame = JSON.stringify(stands.data) === JSON.stringify(v);
        if (isSame) taken.add(k);
        return !isSame;
      }),
    ),
  );
  return { value: without, taken };
}

/** With a member that nobody knows in every object. */
const grown = (schema: z.ZodType, value: unknown): unknown =>
  walked(schema, value, (object) => ({ ...object, laterMember: { of: ['a', 'later', 'version'] } }));

const procedures = readdirSync('procedures').map((file) => readDocument(JSON.parse(readFileSync(`procedures/${file}`, 'utf8'))));
const folder = join(import.meta.dirname, '..', 'golden-2');
const logs = readdirSync(folder).map((file): [string, StoredEvent[]] => [
  file,
  (JSON.parse(readFileSync(join(folder, file), 'utf8')) as { events: StoredEvent[] }).events,
]);

/** What a log leads to, as far as a record hangs on it. */
function leadsTo(events: readonly StoredEvent[]) {
  const state = runState(readLog(events));
  return {
    plan: state.plan.map(itemKey),
    done: [...state.done.keys()],
    live: [...state.live].map(([key, r]) => [key, r.text]),
    verdict: verdictAsFound(state),
    decisions: state.decisions.length,
  };
}
const withActs = (events: readonly StoredEvent[], change: (act: unknown) => unknown): StoredEvent[] =>
  events.map((e) => ({ ...e, act: change(e.act) as StoredEvent['act'] }));

describe('a procedure as it is kept in a run', () => {
  it('is read as it was written', () => {
    for (const document of procedures) expect(readKeptDocument(document)).toEqual(document);
  });
  it('is read as it was where every member with a default is left out', () => {
    const seen = new Set<string>();
    for (const document of procedures) {
      const { value, taken } = bare(documentSchema, document);
      for (const member of taken) seen.add(member);
      expect(readKeptDocument(value)).toEqual(document);
    }
    for (const member of ['lists', 'uses', 'repeats', 'per', 'type', 'combine', 'recorded', 'order'])
      expect([...seen]).toContain(member);
  });
});

describe('the acts whose shape is kept', () => {
  it('are acts that the program knows', () => {
    const known = actSchema.options.map((o) => o.shape.type.value);
    for (const { shape } of keptActs.options) expect(known).toContain(shape.type.value);
  });
});

describe('the shortest procedure', () => {
  it('stands for the same, kept or written', () => {
    const short = {
      format: 'just-twice/procedure',
      version: 2,
      id: 'short',
      revision: 1,
      title: 'Short',
      instrument: { kinds: ['rule'], lists: [{ id: 'marks', title: 'Marks' }] },
      steps: [{ kind: 'measure', id: 'count', title: 'Count', ask: 'How many?' }],
      standards: [{ role: 'line', title: 'Line' }],
      series: [{ id: 'only', title: 'Only' }],
      adjustments: [{ id: 'turn', title: 'Turn', kind: 'offset', of: ['only'] }],
      decisionRule: { kind: 'guard-band' },
    };
    expect(readKeptDocument(short)).toEqual(documentSchema.parse(short));
  });
});

describe('a log of version 2', () => {
  it.each(logs)('%s is read as it was with every default left out of its acts', (_file, events) => {
    const without = withActs(events, (act) => bare(actSchema, act).value);
    // The version is no default of a stored act: it says by what shape it is read.
    const stored = without.map((e) => ({ ...e, act: { ...e.act, version: 2 } }));
    expect(readLog(stored)).toEqual(readLog(events));
  });
  it.each(logs)('%s is not closed by members that a later version adds', (_file, events) => {
    const later = withActs(events, (act) => grown(actSchema, act));
    expect(JSON.stringify(later).split('laterMember').length).toBeGreaterThan(events.length);
    expect(leadsTo(later)).toEqual(leadsTo(events));
  });
  it.each([
    ['a reading without its text', { point: 'p1', repeat: 1, observation: 'R' }, 'text'],
    ['a reading without its place', { text: '1.0', repeat: 1, observation: 'R' }, 'point'],
    ['a reading whose repeat is a word', { text: '1.0', point: 'p1', repeat: 'first', observation: 'R' }, 'repeat'],
  ])('%s is refused when it is read', (_words, more, member) => {
    const act = { type: 'observed', version: 2, set: 'as-found', series: 'error', ...more };
    const event = { sequence: 7, at: '2026-11-30T08:00:00.000Z', person: 'Ada', act };
    expect(() => readLog([event])).toThrow(`Event 7 ("observed") is damaged at ${member}`);
  });
  it('is refused where it has an act that nobody knows', () => {
    const event = { sequence: 3, at: '2026-11-30T08:00:00.000Z', person: 'Ada', act: { type: 'guessed', version: 2 } };
    expect(() => readLog([event])).toThrow('Event 3 is "guessed" of version 2');
  });
});
