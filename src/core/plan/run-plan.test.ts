import { describe, expect, it } from 'vitest';
import { documentOf, given, observed } from '../evaluate/fixtures/documents';
import { readDocument } from '../document/read-document';
import { planRun, type PlanItem, type RunPlan } from './run-plan';

type Members = Record<string, unknown>;

const planned = (series: Members[], more: Members = {}, sets?: string[]): RunPlan =>
  planRun(readDocument(documentOf(series, more)), given(), sets);

/** An item of the plan in a few letters: where it is, then what it is. */
const word = (item: PlanItem): string =>
  [
    item.set === 'as-found' ? '' : item.set,
    item.each ?? '',
    item.point ?? '',
    item.sweep ?? '',
    item.type === 'reading' ? `${item.observation}${item.repeat}` : item.type === 'open' ? 'open' : item.id,
  ]
    .filter((part) => part !== '')
    .join(' ');

const words = (...args: Parameters<typeof planned>): string[] => planned(...args).plan.map(word);

const upAndDown = [
  { id: 'up', title: 'Up' },
  { id: 'down', title: 'Down', backwards: true },
];
const does = (id: string, more: Members = {}): Members => ({ id, title: id, kind: 'do', instruction: 'Do it', ...more });

describe('the order of readings', () => {
  const points = { list: [1, 2] };
  it('is point by point with all repeats at once, sweep after sweep, a backwards one from the end', () =>
    expect(words([{ points, repeats: 2, sweeps: upAndDown, observe: [observed()] }])).toEqual([
      'p1 up R1',
      'p1 up R2',
      'p2 up R1',
      'p2 up R2',
      'p2 down R1',
      'p2 down R2',
      'p1 down R1',
      'p1 down R2',
    ]));
  it('by rounds, all sweeps come once, then again', () =>
    expect(words([{ points, repeats: 2, sweeps: upAndDown, order: 'round', observe: [observed()] }])).toEqual([
      'p1 up R1',
      'p2 up R1',
      'p2 down R1',
      'p1 down R1',
      'p1 up R2',
      'p2 up R2',
      'p2 down R2',
      'p1 down R2',
    ]));
  it('by point, all sweeps come at a point before the next', () => {
    const series = { points, repeats: 2, sweeps: upAndDown, by: 'point', observe: [observed()] };
    expect(words([series])).toEqual([
      'p1 up R1',
      'p1 up R2',
      'p1 down R1',
      'p1 down R2',
      'p2 up R1',
      'p2 up R2',
      'p2 down R1',
      'p2 down R2',
    ]);
    expect(words([{ ...series, order: 'round' }]).slice(0, 4)).toEqual(['p1 up R1', 'p1 down R1', 'p1 up R2', 'p1 down R2']);
  });
  it('of instances is one after the other, or all at a point before the next', () => {
    const of = [
      { id: 'a', title: 'A' },
      { id: 'b', title: 'B' },
    ];
    const series = { points, observe: [observed()] };
    expect(words([{ ...series, forEach: { of } }])).toEqual(['a p1 R1', 'a p2 R1', 'b p1 R1', 'b p2 R1']);
    expect(words([{ ...series, forEach: { of, by: 'point' } }])).toEqual(['a p1 R1', 'b p1 R1', 'a p2 R1', 'b p2 R1']);
  });
  it('of series that go together is instance by instance', () => {
    const forEach = {
      of: [
        { id: 'a', title: 'A' },
        { id: 'b', title: 'B' },
      ],
    };
    expect(
      words([
        { forEach, observe: [observed()] },
        { forEach, with: 's1', observe: [observed('Q')] },
      ]),
    ).toEqual(['a p1 R1', 'a p1 Q1', 'b p1 R1', 'b p1 Q1']);
  });
});

describe('what stands beside the readings', () => {
  it('an observation of a wider scope stands in the first reading there', () =>
    expect(
      words([
        {
          points: { list: [1, 2] },
          repeats: 2,
          sweeps: upAndDown,
          observe: [
            observed(),
            observed('P', { per: 'point' }),
            observed('S', { per: 'sweep' }),
            observed('I', { per: 'instance' }),
          ],
        },
      ]).filter((w) => !/R\d/.test(w)),
    ).toEqual(['p1 up P1', 'p1 up S1', 'p1 up I1', 'p2 up P1', 'p2 down P1', 'p2 down S1', 'p1 down P1']));
  it('steps and conditions come where their scope begins, and after it ends', () =>
    expect(
      words(
        [
          {
            points: { list: [1, 2] },
            sweeps: upAndDown,
            observe: [observed()],
            steps: [
              does('mount'),
              does('turn', { before: 'sweep', sweeps: ['down'] }),
              does('rest', { before: 'point' }),
              does('wipe', { after: 'instance' }),
            ],
          },
        ],
        {
          steps: [does('clean'), does('warm', { sets: ['as-found'] }), does('pack', { after: 'run' })],
          conditions: [
            { id: 'air', title: 'Air', unit: 'Cel', recorded: 'set' },
            { id: 'bath', title: 'Bath', unit: 'Cel', recorded: 'series' },
          ],
        },
      ),
    ).toEqual([
      'clean',
      'warm',
      'air',
      'p1 up mount',
      'p1 up bath',
      'p1 up rest',
      'p1 up R1',
      'p2 up rest',
      'p2 up R1',
      'p2 down turn',
      'p2 down rest',
      'p2 down R1',
      'p1 down rest',
      'p1 down R1',
      'p1 down wipe',
      'pack',
    ]));
  it('waiting and work with the hands are added up', () => {
    const { waitingMinutes, handsOnMinutes, readings } = planned(
      [{ points: { list: [1, 2, 3] }, repeats: 2, handsOn: 0.5, observe: [observed(), observed('S', { per: 'point' })] }],
      { steps: [does('clean', { handsOn: 4 }), { id: 'soak', title: 'Soak', kind: 'wait', instruction: 'Wait', minutes: 30 }] },
    );
    expect({ waitingMinutes, handsOnMinutes, readings }).toEqual({ waitingMinutes: 30, handsOnMinutes: 8.5, readings: 9 });
  });
});

describe('sets', () => {
  it('what was read as found stands for as left, and the independent check comes last', () =>
    expect(
      words([
        { observe: [observed()] },
        { sets: ['as-left'], observe: [observed('L')] },
        { sets: ['check'], observe: [observed('C')] },
        { sets: ['quick'], observe: [observed('Q')] },
      ]),
    ).toEqual(['p1 R1', 'as-left p1 L1', 'check p1 C1']));
  it('a quick run does what names it', () =>
    expect(
      words(
        [{ observe: [observed()] }, { sets: ['as-found', 'quick'], observe: [observed('Q')] }],
        { steps: [does('ice', { sets: ['quick'] })] },
        ['quick'],
      ),
    ).toEqual(['quick ice', 'quick p1 Q1']));
});

it('points that an earlier step decides stand open until then', () => {
  const plan = (steps?: Members) =>
    planRun(
      readDocument(
        documentOf([{ points: { from: 0, to: { is: 'step.top' }, step: 1 }, observe: [observed()] }], {
          steps: [{ id: 'top', title: 'Top', kind: 'measure', ask: 'How far?', unit: 'mm' }],
        }),
      ),
      given(steps === undefined ? {} : { steps }),
    ).plan.map(word);
  expect(plan()).toEqual(['top', 'open']);
  expect(plan({ top: 2 })).toEqual(['top', 'p1 R1', 'p2 R1', 'p3 R1']);
});
