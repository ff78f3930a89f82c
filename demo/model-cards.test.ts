import { readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { momentsOf } from '../src/core/document/moments';
import { cardLinesSchema, cardTexts } from '../src/core/register/model-card';
import { procedureNamed } from '../src/core/run/fixtures/bench';
import { instruments } from '../src/bench/works/instruments';
import { cardOfModel } from './model-cards';

describe('cards of make and type', () => {
  const procedures = readdirSync('procedures').map((f) => f.replace('.json', ''));
  it.each(procedures)('%s has one, each line at a moment that its procedure has', (id) => {
    const lines = cardOfModel(id, 'any other');
    expect(lines.length).toBeGreaterThan(0);
    const moments = momentsOf([procedureNamed(id)]);
    expect(lines.filter((l) => !moments.some((m) => m.id === l.at))).toEqual([]);
    expect(cardLinesSchema.safeParse(lines).success).toBe(true);
  });
  it('two models of one family differ, the procedure stays', () => {
    const models = [...new Set(instruments.filter((i) => i.procedure === 'outside-micrometer').map((i) => i.row.designation))];
    const zeros = new Set(models.map((m) => cardTexts({ lines: cardOfModel('outside-micrometer', m) }, ['zero']).join()));
    expect(zeros.size).toBeGreaterThan(1);
  });
  it('moments come in the order of the procedure, a moment that two procedures name alike once', () => {
    const doc = procedureNamed('pressure-transmitter');
    const moments = momentsOf([doc, doc]);
    expect(moments.map((m) => m.id)).toEqual([...new Set(moments.map((m) => m.id))]);
    const at = (id: string) => moments.findIndex((m) => m.id === id);
    expect(at('isolate')).toBeLessThan(at('configuration'));
    expect(at('configuration')).toBeLessThan(at('zeroAndSpan'));
    expect(moments.find((m) => m.id === 'zeroAndSpan')!.where).toBe('Adjust');
  });
  it.each([
    [[{ at: '', text: 'x' }], 'at'],
    [[{ at: 'zero', text: '  ' }], 'text'],
    [[{ at: 'zero', text: 'x'.repeat(1001) }], 'text'],
    [Array.from({ length: 81 }, () => ({ at: 'zero', text: 'x' })), undefined],
  ])('a line without a moment, without words, too long, or too many are refused', (lines, member) => {
    const { error } = cardLinesSchema.safeParse(lines);
    expect(error!.issues[0]!.path.at(-1)).toBe(member);
  });
});
