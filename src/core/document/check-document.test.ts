import { describe, expect, it } from 'vitest';
import { DocumentError } from '../faults';
import { readDocument } from './read-document';

/** A document that is right; each case below breaks one place of it and is told of that place. */
const right = () => ({
  format: 'just-twice/procedure',
  version: 2,
  id: 'invented',
  revision: 1,
  title: 'Invented',
  instrument: { kinds: ['invented'], lists: [{ id: 'ranges', title: 'Ranges', columns: [{ id: 'upper', title: 'Upper' }] }] },
  standards: [{ role: 'source', title: 'Source', kinds: ['source'] }],
  choices: [
    {
      id: 'medium',
      title: 'Medium',
      options: [
        { id: 'air', title: 'Air' },
        { id: 'oil', title: 'Oil' },
      ],
      default: 'air',
    },
  ],
  tables: [{ id: 'factor', columns: ['f'], rows: [[0, 1]] as number[][] }],
  conditions: [{ id: 'air', title: 'Air', unit: 'Cel', lower: 15, upper: { is: '25' } }],
  steps: [
    { kind: 'confirm', id: 'clean', title: 'Clean', ask: 'Clean?' },
    { kind: 'wait', id: 'settle', title: 'Settle', instruction: 'Wait.', minutes: 5, since: 'clean' },
  ] as Record<string, unknown>[],
  series: [
    {
      id: 'error',
      title: 'Error',
      forEach: undefined as unknown,
      points: { unit: 'V', list: [1, 2, 3] } as unknown,
      sweeps: [{ id: 'up', title: 'Up' }],
      repeats: 3,
      conditions: [] as string[],
      observe: [{ id: 'R', title: 'Meter', of: 'instrument', unit: 'V' }] as Record<string, unknown>[],
      computed: [] as Record<string, unknown>[],
      fits: [{ id: 'line', x: 'point.nominal', y: 'E', basis: ['1', 'x'], over: ['points'] }],
      results: [
        {
          symbol: 'E',
          title: 'Error',
          unit: 'V',
          model: 'R - N',
          quantities: [
            { symbol: 'R', name: 'Reading', unit: 'V', source: 'Read', distribution: { type: 'readings', of: 'R' } },
            {
              symbol: 'N',
              name: 'Nominal',
              unit: 'V',
              source: 'Set',
              distribution: { type: 'constant', value: { is: 'point.nominal' } },
            },
          ],
        },
      ],
      aggregates: [{ id: 'worst', title: 'Worst', unit: 'V', of: 'E', over: ['points'], statistic: 'greatest' }] as Record<
        string,
        unknown
      >[],
    },
  ],
  adjustments: [
    {
      id: 'zero',
      title: 'Zero',
      kind: 'offset',
      of: ['error'],
      result: 'E',
      takes: ['p1'],
      affects: ['error'],
      stored: [{ id: 'offset', title: 'Offset', unit: 'V', proposed: { is: 'stored.offset - at.p1.E' } as unknown }],
      rounds: { points: ['first', 'last'], within: { is: 'aggregate.error.worst / 2' } as unknown, most: 6 },
      policy: { kind: 'beyond', is: '0.1' },
    },
  ],
});
type Document = ReturnType<typeof right>;
const with_ = (change: (d: Document) => void): Document => {
  const document = structuredClone(right());
  change(document);
  return document;
};
const faultOf = (document: Document): DocumentError => {
  try {
    readDocument(document);
  } catch (error) {
    if (error instanceof DocumentError) return error;
    throw error;
  }
  throw new Error('The document was read.');
};

const cases: [string, (d: Document) => void, (string | number)[]][] = [
  ['a default that is no option', (d) => (d.choices[0]!.default = 'gas'), ['choices', 0, 'default']],
  ['an id that stands twice', (d) => d.choices.push(d.choices[0]!), ['choices', 1, 'id']],
  ['a wait since no step', (d) => (d.steps[1]!['since'] = 'dry'), ['steps', 1, 'since']],
  ['what touches the instrument before it is read as found', (d) => (d.steps[0]!['touches'] = true), ['steps', 0, 'touches']],
  ['a wait of minutes with an unknown name', (d) => (d.steps[1]!['minutes'] = { is: '60 * dry' }), ['steps', 1, 'minutes']],
  ['a condition with an unknown name', (d) => (d.conditions[0]!.upper = { is: 'wind' }), ['conditions', 0, 'upper']],
  [
    'a step under a choice that is none',
    (d) => (d.steps[0]!['when'] = { choice: 'colour', is: 'red' }),
    ['steps', 0, 'when', 'choice'],
  ],
  [
    'a step under an option that is none',
    (d) => (d.steps[0]!['when'] = { choice: 'medium', is: 'gas' }),
    ['steps', 0, 'when', 'is'],
  ],
  ['a step under a step that is none', (d) => (d.steps[0]!['when'] = { step: 'dry', is: 'yes' }), ['steps', 0, 'when', 'step']],
  ['a list that the instrument lacks', (d) => (d.series[0]!.forEach = { list: 'jaws' }), ['series', 0, 'forEach', 'list']],
  ['a condition that is not declared', (d) => d.series[0]!.conditions.push('wind'), ['series', 0, 'conditions', 0]],
  ['an observation of nothing', (d) => (d.series[0]!.observe[0]!['of'] = 'sensor'), ['series', 0, 'observe', 0, 'of']],
  [
    'a choice without options',
    (d) => d.series[0]!.observe.push({ id: 'leak', title: 'Leak', of: 'instrument', type: 'choice', options: [] }),
    ['series', 0, 'observe', 1, 'options'],
  ],
  [
    'a computed value with an unknown name',
    (d) => d.series[0]!.computed.push({ id: 'd', title: 'd', is: 'R - Q' }),
    ['series', 0, 'computed', 0, 'is'],
  ],
  ['a fit through an unknown basis', (d) => (d.series[0]!.fits[0]!.basis[1] = 'x * z'), ['series', 0, 'fits', 0, 'basis', 1]],
  [
    'readings of what nobody observes',
    (d) => (d.series[0]!.results[0]!.quantities[0]!.distribution.of = 'Q'),
    ['series', 0, 'results', 0, 'quantities', 0, 'distribution', 'of'],
  ],
  [
    'a model with an unknown quantity',
    (d) => (d.series[0]!.results[0]!.model = 'R - N + z'),
    ['series', 0, 'results', 0, 'model'],
  ],
  ['an aggregate of nothing', (d) => (d.series[0]!.aggregates[0]!['of'] = 'F'), ['series', 0, 'aggregates', 0, 'of']],
  [
    'an aggregate among no points',
    (d) => (d.series[0]!.aggregates[0]!['among'] = ['p9']),
    ['series', 0, 'aggregates', 0, 'among', 0],
  ],
  ['an adjustment of no series', (d) => (d.adjustments[0]!.of[0] = 'rest'), ['adjustments', 0, 'of', 0]],
  ['an adjustment of no result', (d) => (d.adjustments[0]!.result = 'F'), ['adjustments', 0, 'result']],
  ['an adjustment that takes no point', (d) => (d.adjustments[0]!.takes[0] = 'p9'), ['adjustments', 0, 'takes', 0]],
  ['rounds over no point', (d) => (d.adjustments[0]!.rounds.points[1] = 'p9'), ['adjustments', 0, 'rounds', 'points', 1]],
  [
    'rounds within an unknown name',
    (d) => (d.adjustments[0]!.rounds.within = { is: 'wind / 2' }),
    ['adjustments', 0, 'rounds', 'within'],
  ],
  [
    'a proposal with an unknown name',
    (d) => (d.adjustments[0]!.stored[0]!.proposed = { is: 'stored.gain' }),
    ['adjustments', 0, 'stored', 0, 'proposed'],
  ],
  ['a policy with an unknown name', (d) => (d.adjustments[0]!.policy.is = 'wind'), ['adjustments', 0, 'policy', 'is']],
];

describe('what touches the instrument', () => {
  it('may stand before it is read as found where its owner does it before every use, and after a run', () => {
    const at = (more: Record<string, unknown>) => with_((d) => Object.assign(d.steps[0]!, { touches: true }, more));
    expect(() => readDocument(at({ asInUse: true }))).not.toThrow();
    expect(() => readDocument(at({ after: 'run' }))).not.toThrow();
    expect(() => readDocument(at({ sets: ['as-left'] }))).not.toThrow();
    expect(() => readDocument(at({ sets: ['as-found', 'as-left'] }))).toThrow('before it is read as found');
  });
});

describe('faults of a document, with their place', () => {
  it('are none in the one that is right', () => {
    expect(readDocument(right()).adjustments[0]!.rounds).toMatchObject({ most: 6 });
  });
  it.each(cases)('%s', (_, change, path) => {
    const fault = faultOf(with_(change));
    expect(fault.path.slice(0, path.length)).toEqual(path);
    expect(fault.message.length).toBeGreaterThan(10);
  });
});
