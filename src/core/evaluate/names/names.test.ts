import { describe, expect, it } from 'vitest';
import { readDocument } from '../../document/read-document';
import { documentOf } from '../fixtures/documents';
import { isGrowing, problemWith } from './registry';

const document = readDocument(
  documentOf([{ observe: [], results: [] }], {
    conditions: ['air', 'room'].map((id) => ({ id, title: id, unit: 'Cel' })),
    adjustments: ['zero', 'gain'].map((id) => ({
      id,
      title: id,
      kind: 'values',
      of: ['s1'],
      stored: [{ id: `${id}Value`, title: id, unit: '1' }],
      instruction: 'Set it',
    })),
  }),
);
const problem = (name: string) => problemWith(document, name, { series: document.series[0]! });

describe('a name of a formula', () => {
  it.each(['condition.air', 'condition.room', 'stored.zeroValue', 'stored.gainValue'])('%s is offered', (name) =>
    expect(problem(name)).toBeNull(),
  );
  it.each(['condition.pressure', 'condition', 'condition.air.more', 'stored.air', 'stored.zero', 'nothing.at.all'])(
    '%s is not',
    (name) => expect(problem(name)).toMatch(/nothing offers|not offered/),
  );
  it('may be another after one more reading, condition or step, or stays', () =>
    expect(
      ['at.p1.R', 'series.a.R', 'fit.l.c0', 'condition.air', 'step.a', 'stored.a', 'point.nominal', 'R'].map(isGrowing),
    ).toEqual([true, true, true, true, true, false, false, false]));
});
