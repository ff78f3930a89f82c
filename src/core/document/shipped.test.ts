import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { answerVerb } from '../door/verbs';
import { DocumentError } from '../faults';
import { recomputeExamples } from './example';
import { readDocument } from './read-document';

const shipped = readdirSync('procedures').map(
  (file) => [file, JSON.parse(readFileSync(`procedures/${file}`, 'utf8')) as unknown] as const,
);

describe('procedures that ship', () => {
  it.each(shipped)('%s is read, and its worked example agrees', (_, raw) => {
    const examples = recomputeExamples(readDocument(raw));
    expect(examples.length).toBeGreaterThan(0);
    for (const { source, lines } of examples) {
      expect(source.length).toBeGreaterThan(20);
      expect(lines.length).toBeGreaterThan(8);
      expect(lines.filter((l) => !l.agrees)).toEqual([]);
    }
  });
  it.each(shipped)('%s has a plan with waits, hands-on time and readings', async (_, raw) => {
    type Example = { input: Record<string, unknown> };
    const { instrument, standards, choices } = [(raw as { example: Example | Example[] }).example].flat()[0]!.input;
    const answer = await answerVerb(
      'procedure',
      JSON.stringify({ procedure: raw, instrument, standards, ...(choices ? { choices } : {}) }),
    );
    if (!answer.ok) throw new Error(answer.refusal.error.message);
    expect(answer.document).toMatchObject({ valid: true, example: { agrees: true } });
    const plan = answer.document as {
      plan: { type: string; set: string }[];
      waitingMinutes: number;
      handsOnMinutes: number;
      readings: number;
    };
    expect(plan.readings).toBe(plan.plan.filter((i) => i.type === 'reading').length);
    // How often it is read may hang on what is measured first.
    if (!plan.plan.some((i) => i.type === 'open')) expect(plan.readings).toBeGreaterThan(10);
    // So may how long it waits.
    if (!plan.plan.some((i) => 'kind' in i && i.kind === 'wait' && !('minutes' in i)))
      expect(plan.waitingMinutes).toBeGreaterThan(10);
    expect(plan.handsOnMinutes).toBeGreaterThan(5);
  });
});

describe('the guide', () => {
  const examples = [...readFileSync('docs/procedures.md', 'utf8').matchAll(/```json\n([\s\S]*?)```/g)].map((m) => m[1]!);
  it('has examples from five lines to adjustments', () => expect(examples).toHaveLength(3));
  it.each(examples.map((text, i) => [i + 1, text] as const))('its example %d is a procedure', (_, text) =>
    expect(() => readDocument(JSON.parse(text))).not.toThrow(),
  );
  it('says truly how a fault is told', () => {
    const raw = JSON.parse(examples[1]!) as { series: { computed: { is: string }[] }[] };
    raw.series[0]!.computed[0]!.is = 'R - Q';
    const fault = (() => {
      try {
        readDocument(raw);
      } catch (error) {
        return error as DocumentError;
      }
      return null;
    })();
    expect(fault).toBeInstanceOf(DocumentError);
    expect(fault!.path).toEqual(['series', 0, 'computed', 0, 'is']);
    expect(fault!.message).toBe('"Q" is a name that nothing offers here. (character 5 of "R - Q")');
  });
});

describe('the plan', () => {
  it('stands open where the instrument is not known yet', async () => {
    const raw = shipped.find(([file]) => file === 'thermometer-in-bath.json')![1];
    const answer = await answerVerb('procedure', JSON.stringify({ procedure: raw }));
    if (!answer.ok) throw new Error(answer.refusal.error.message);
    expect((answer.document as { plan: { type: string }[] }).plan.filter((i) => i.type === 'open').length).toBeGreaterThan(0);
  });
  it('reads series that go together instance by instance', async () => {
    const series = (id: string, more = {}) => ({
      id,
      title: id,
      forEach: { of: [{ id: 'a' }, { id: 'b' }] },
      observe: [{ id: `R${id}`, of: 'instrument' }],
      ...more,
    });
    const procedure = {
      format: 'just-twice/procedure',
      version: 2,
      id: 'together',
      revision: 1,
      title: 'Together',
      instrument: { kinds: ['x'] },
      series: [series('one'), series('two', { with: 'one' })],
    };
    const answer = await answerVerb('procedure', JSON.stringify({ procedure }));
    if (!answer.ok) throw new Error(answer.refusal.error.message);
    const order = (answer.document as { plan: { series: string; each: string }[] }).plan.map((i) => `${i.series}:${i.each}`);
    expect(order).toEqual(['one:a', 'two:a', 'one:b', 'two:b']);
  });
});

describe('a document that copies', () => {
  const base = JSON.parse(readFileSync('procedures/pressure-transmitter.json', 'utf8')) as {
    series: Record<string, unknown>[];
    example?: unknown;
  };
  it('a series like an earlier one overrides member by member, and empties with an empty list', () => {
    const { example: _example, ...doc } = base;
    const read = readDocument({
      ...doc,
      series: [...base.series, { like: 'error', id: 'again', title: 'Again', aggregates: [], fits: [] }],
      adjustments: [],
    });
    expect(read.series[1]).toMatchObject({ id: 'again', aggregates: [], sweeps: read.series[0]!.sweeps });
    expect(read.series[1]!.results).toEqual(read.series[0]!.results);
  });
  it('says when there is nothing to be like', () =>
    expect(() => readDocument({ ...base, series: [{ like: 'none', id: 'x' }] })).toThrow('no earlier series "none"'));
});
