import { describe, expect, it } from 'vitest';
import {
  askedFor,
  companionsChosen,
  filledBy,
  optionOf,
  plainStart,
  pressed,
  startFormSchema,
  type BenchOption,
} from './start-fields';

const standard = (id: string, refusal: string | null = null) => ({
  id,
  identification: id,
  designation: '',
  due: null,
  refusal,
  standing: 'good',
  days: 9,
});
const procedure = {
  id: 'p',
  revision: 2,
  title: 'P',
  choices: [
    { id: 'liquid', title: 'Liquid', default: 'water', options: [{ id: 'water' }, { id: 'oil', caution: 'Hot oil burns.' }] },
    {
      id: 'grade',
      title: 'Grade of the oil',
      options: [{ id: 'thin' }, { id: 'thick' }],
      when: { choice: 'liquid', is: ['oil'] },
    },
  ],
  roles: [
    { role: 'reference', title: 'Reference', standards: [standard('r1', 'It ran out.'), standard('r2'), standard('r3')] },
    { role: 'blocks', title: 'Blocks', several: true, standards: [standard('b1'), standard('b2')] },
    { role: 'ring', title: 'Ring', optional: true, standards: [standard('g1')] },
    { role: 'bath', title: 'Oil bath', standards: [], when: { choice: 'liquid', is: 'oil' } },
  ],
} as unknown as BenchOption;
const plain = plainStart([procedure]);
const sent = (typed: typeof plain) => startFormSchema([procedure]).safeParse(typed);

describe('what a calibration is started with', () => {
  it('is the plainest where nobody touched it: defaults, and the first standard that can be used', () => {
    expect(optionOf(plain, procedure.choices[0]!)).toBe('water');
    expect(optionOf(plain, procedure.choices[1]!)).toBe('thin');
    expect(filledBy(plain, procedure.roles[0]!)).toEqual(['r2']);
    expect(sent(plain).data).toEqual({
      procedure: 'p',
      choices: { liquid: 'water' },
      standards: { reference: ['r2'], blocks: ['b1'], ring: ['g1'] },
    });
  });
  it('asks for what the choices need, and for nothing else', () => {
    const ids = (typed: typeof plain) => askedFor(procedure, typed).roles.map((r) => r.role);
    expect(ids(plain)).not.toContain('bath');
    const oil = { ...plain, choices: { liquid: 'oil' } };
    expect(ids(oil)).toContain('bath');
    expect(askedFor(procedure, oil).choices.map((c) => c.id)).toEqual(['liquid', 'grade']);
    expect(sent(oil).error!.issues).toMatchObject([{ path: ['standards', 'bath'], message: 'Oil bath: choose one.' }]);
  });
  it('a press takes one of a kind, several of several, and gives an optional one back', () => {
    const [reference, blocks, ring] = procedure.roles as [
      BenchOption['roles'][number],
      BenchOption['roles'][number],
      BenchOption['roles'][number],
    ];
    expect(pressed(plain, reference, 'r3')).toEqual(['r3']);
    expect(pressed(plain, reference, 'r2')).toEqual(['r2']);
    expect(pressed(plain, blocks, 'b2')).toEqual(['b1', 'b2']);
    const none = { ...plain, standards: { ring: pressed(plain, ring, 'g1') } };
    expect(sent(none).data!.standards).not.toHaveProperty('ring');
  });
  it('says the day of receipt where one is written, and asks for it in figures', () => {
    expect(sent({ ...plain, received: '2026-11-20' }).data).toMatchObject({ received: '2026-11-20' });
    expect(sent({ ...plain, received: '20.11.2026' }).error!.issues).toMatchObject([
      { path: ['received'], message: 'The day of receipt is written 2026-11-24.' },
    ]);
    expect(sent({ ...plain, procedure: '' }).error!.issues[0]!.message).toContain('No procedure serves');
  });
});

it('as many others stand in one set-up as the procedure takes, in the order in which they were chosen', () => {
  const typed = { ...plainStart([procedure]), together: ['c', 'a', 'b'] };
  expect(companionsChosen({ ...procedure, most: 3 }, typed)).toEqual(['c', 'a']);
  expect(companionsChosen({ ...procedure, most: 1 }, typed)).toEqual([]);
  expect(companionsChosen(undefined, typed)).toEqual([]);
});
