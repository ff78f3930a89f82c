import { estimateOf } from '../evaluate/fixtures/documents';
import { describe, expect, it } from 'vitest';
import { certificateOf } from '../certificate/certificate';
import { adjustmentAdvice, roundsSentence } from './adjustment-advice';
import { TestBench } from './fixtures/bench';
import { errorOf, planOf, reads, setup, showing, source, type Members } from './fixtures/made';
import { gateStanding } from './gates';
import { conditionsNow, nextItem, sentenceOf, stageOf } from './next-step';
import { evaluationIn, setAsLeft, verdictAsFound, verdictAsLeft } from './run-results';
import { placeOf, slotOf } from '../state/place-keys';

/** Mechanisms of the contract on small documents, for instruments that nobody has: the run knows none of them by name. */

describe('an answer that is read', () => {
  const answers = {
    id: 'lamp',
    title: 'Lamp',
    of: 'instrument',
    type: 'choice',
    options: [
      { id: 'lit', title: 'Lit', accept: true },
      { id: 'dark', title: 'Dark' },
    ],
  };
  const bench = () => new TestBench(setup({ series: [{ id: 'looks', title: 'Looks', observe: [answers] }] }));
  const said = (text: string) => ({
    type: 'observed' as const,
    set: 'as-found',
    series: 'looks',
    point: 'p1',
    repeat: 1,
    observation: 'lamp',
    text,
  });
  it('passes where it is accepted, and fails the run where it is not', () => {
    expect(bench().try(said('green'))).toBe('Choose one of Lit, Dark.');
    expect(verdictAsFound(bench().do(said('lit')).state)).toBe('pass');
    expect(verdictAsFound(bench().do(said('dark')).state)).toBe('fail');
  });
  it('stands on the certificate in its own words', () => {
    const one = bench().do(said('dark')).playTo('end');
    const [table] = certificateOf(one.state, { name: 'Room', address: '' }).tables;
    expect(table!.lines).toEqual([{ title: 'Lamp', limitWords: '', found: { value: 'Dark', verdict: 'fail' }, left: null }]);
  });
});

describe('a series that may be left out', () => {
  const document = {
    series: [
      { id: 'extra', title: 'Extra', optional: true, points: { unit: 'V', list: [1] }, observe: [reads()] },
      { id: 'main', title: 'Main', points: { unit: 'V', list: [5] }, observe: [reads()], results: [errorOf('R', 0.1)] },
    ],
  };
  it('is skipped without a reason, and is not missed', () => {
    const bench = new TestBench(setup(document));
    expect(bench.try({ type: 'skipped', set: 'as-found', series: 'main', reason: '' })).toContain('reason');
    bench.do({ type: 'skipped', set: 'as-found', series: 'extra', reason: '' });
    expect(nextItem(bench.state)).toMatchObject({ type: 'reading', series: 'main' });
    showing(bench, (n) => n).playTo('judge');
    expect(verdictAsFound(bench.state)).toBe('pass');
  });
});

describe('ranges that are adjusted separately', () => {
  const document = {
    instrument: {
      kinds: ['invented'],
      lists: [{ id: 'ranges', title: 'Ranges', columns: [{ id: 'upper', title: 'Upper', unit: 'V' }] }],
    },
    series: [
      {
        id: 'error',
        title: 'Error',
        forEach: { list: 'ranges' },
        points: { unit: 'V', list: [1, { is: 'each.upper' }] },
        observe: [reads()],
        results: [errorOf('R', 0.1)],
      },
    ],
    adjustments: [
      {
        id: 'trim',
        title: 'Trim',
        kind: 'offset',
        of: ['error'],
        result: 'E',
        separately: true,
        affects: ['error'],
        steps: [{ kind: 'confirm', id: 'open', title: 'Cover', ask: 'Cover off?' }],
        afterSteps: [{ kind: 'confirm', id: 'shut', title: 'Cover', ask: 'Cover on?' }],
        stored: [{ id: 'trim', title: 'Trim', unit: 'V', proposed: { is: 'stored.trim - at.p1.E' }, step: 0.01 }],
        rounds: { points: ['first', 'last'], within: { is: 'each.upper / 100' }, most: 4 },
      },
    ],
  };
  const lists = {
    ranges: [
      { id: 'low', title: 'Low', upper: 2 },
      { id: 'high', title: 'High', upper: 10 },
    ],
  };
  it('only the one that needs it is proposed, with its own steps and what it stores', () => {
    const bench = new TestBench(setup(document, { lists }));
    bench.setup.instrument.stored['trim'] = { low: 0, high: 0.5 };
    bench.shown.reading = (state, slot) => {
      const nominal = state.places.get(`${slot.set}|error|${slot.each}`)!.points.find((p) => p.id === slot.point)!.nominal!;
      return (nominal + (slot.each === 'high' && !state.adjusted.length ? 0.3 : 0)).toFixed(2);
    };
    bench.playTo('judge');
    const advice = adjustmentAdvice(bench.state, 'as-found');
    expect(advice).toMatchObject({ adjustment: 'trim', each: 'high' });
    expect(advice.outlooks.map((o) => [o.advice.each, o.advice.wanted])).toEqual([
      ['low', false],
      ['high', true],
    ]);
    expect(advice.outlooks[1]!.advice.proposed).toEqual({ trim: 0.2 });
    bench.do({ type: 'adjustment-decided', set: 'as-found', adjustment: 'trim', each: 'high', proposed: 'trim', reason: '' });
    expect(nextItem(bench.state)).toMatchObject({ type: 'step', id: 'open', of: 'trim', each: 'high' });
    expect(stageOf(bench.state, nextItem(bench.state))).toBe('adjust');
    bench.playTo('adjust');
    const trimmed = (trim: { before?: string; after: string; readBack?: string }) =>
      ({ type: 'adjusted', set: 'as-found', id: 'trim', each: 'high', stored: { trim }, note: '' }) as const;
    expect(bench.try(trimmed({ after: '0.20', readBack: '0.20' }))).toContain('what it holds now');
    expect(bench.try(trimmed({ before: '0.50', after: '0.20' }))).toContain('read it back');
    expect(bench.try(trimmed({ before: '0.50', after: '0.20', readBack: '0.02' }))).toContain('was read back');
    expect(bench.try(trimmed({ before: '0.40', after: '0.20', readBack: '0.20' }))).toContain('say in the note why');
    bench.do(trimmed({ before: '0.50', after: '0.20', readBack: '0,20' }));
    expect(roundsSentence(bench.state, 'as-found', 'trim', 'high')).toBe(
      'In rounds: set 1 V and 10 V in turn, and go round again until each is within 0.1 V; after 4 rounds, stop and look for the cause.',
    );
    expect(nextItem(bench.state)).toMatchObject({ type: 'step', id: 'shut' });
    bench.playTo('end');
    expect(verdictAsLeft(bench.state)).toBe('pass');
    expect(certificateOf(bench.state, { name: 'Room', address: '' }).adjustments[0]!.title).toBe('High: Trim');
  });

  it('adjusted together, its rounds name the points of all', () => {
    const [trim] = document.adjustments;
    const together = { ...trim!, separately: false, rounds: { ...trim!.rounds, within: 0.1 } };
    const bench = new TestBench(setup({ ...document, adjustments: [together] }, { lists }));
    bench.setup.instrument.stored['trim'] = 0;
    bench.playTo('judge');
    expect(roundsSentence(bench.state, 'as-found', 'trim', null)).toContain('set 1 V, 2 V and 10 V in turn');
  });
});

describe('points that a step decides', () => {
  const document = {
    steps: [{ kind: 'measure', id: 'top', title: 'Top', ask: 'How high does it go?', unit: 'V', lower: 2, upper: 50 }],
    series: [
      {
        id: 'error',
        title: 'Error',
        points: { unit: 'V', from: { is: 'step.top / 2' }, to: { is: 'step.top' }, step: { is: 'step.top / 2' } },
        observe: [reads()],
        results: [errorOf('R', 0.1)],
      },
    ],
  };
  it('stand open until then, and are kept in the log as they were resolved', () => {
    const bench = new TestBench(setup(document));
    expect(planOf(bench.state)).toEqual(['step top', 'open error', 'judge as-found', 'interval as-found', 'complete as-found']);
    expect(bench.try({ type: 'plan-resolved', set: 'as-found', series: 'error' })).toContain('not what comes next');
    const top = (value: number, text: string, reason?: string) =>
      bench.try({ type: 'step-done', set: 'as-found', id: 'top', value, text, ...(reason ? { reason } : {}) });
    expect(top(8, 'eight')).toContain('not a number');
    expect(top(9, '8')).toContain('not the one typed');
    expect(top(80, '80')).toContain('the procedure wants 2 to 50 V');
    expect(top(8, '8,0')).toBeNull();
    expect(sentenceOf(bench.state, nextItem(bench.state), bench.at)).toBe('Error: its points are known now.');
    bench.do({ type: 'plan-resolved', set: 'as-found', series: 'error' });
    const kept = bench.events.at(-1)!.act;
    expect(kept.type === 'plan-resolved' && kept.plan.places[0]!.points.map((p) => p.nominal)).toEqual([4, 8]);
    showing(bench, (n) => n).playTo('judge');
    expect(verdictAsFound(bench.state)).toBe('pass');
  });
});

describe('steps that work out, choose and connect', () => {
  const document = {
    standards: [{ role: 'supply', title: 'Supply', kinds: ['source'] }],
    steps: [
      {
        kind: 'choose',
        id: 'mode',
        title: 'Mode',
        ask: 'Which mode?',
        options: [
          { id: 'fast', title: 'Fast' },
          { id: 'slow', title: 'Slow' },
        ],
        want: 'slow',
      },
      { kind: 'measure', id: 'a', title: 'A', ask: 'A?', unit: 'V', near: { is: '5', within: 1 } },
      { kind: 'check', id: 'twice', title: 'Twice', is: 'step.a * 2', unit: 'V', upper: 11 },
      { kind: 'connect', id: 'lead', title: 'Lead', from: 'supply', to: 'instrument' },
      { kind: 'do', id: 'slowly', title: 'Slowly', instruction: 'Turn it slowly.', when: { step: 'mode', is: 'slow' } },
      { kind: 'do', id: 'note', title: 'Note', instruction: 'Write it down.', after: 'run' },
    ],
    series: [{ id: 'main', title: 'Main', points: { unit: 'V', list: [5] }, observe: [reads()], results: [errorOf('R', 0.1)] }],
  };
  it('each by its own rules', () => {
    const bench = new TestBench(setup(document, { standards: { supply: [source('s-1')] } }));
    const step = (id: string, value: number | string | boolean | Record<string, number>, more: Members = {}) =>
      bench.try({ type: 'step-done', set: 'as-found', id, value, ...more });
    expect(step('mode', 'fast')).toContain('wants Slow');
    expect(step('mode', 'fast', { reason: 'Slow is broken' })).toBeNull();
    expect(step('a', 7, { text: '7' })).toContain('more than 1 V away from 5 V');
    expect(step('a', 5.9, { text: '5.9' })).toBeNull();
    expect(step('twice', 12)).toContain('has changed');
    expect(step('twice', 11.8)).toContain('the procedure wants at most 11 V');
    expect(step('twice', 11.8, { reason: 'Known for this one' })).toBeNull();
    expect(sentenceOf(bench.state, nextItem(bench.state), bench.at)).toBe('Connect Supply to the instrument.');
    expect(step('lead', true)).toContain('as a number');
    expect(step('lead', { length: 2 }, { text: 'two leads' })).toBeNull();
    showing(bench, (n) => n).playTo('judge');
    bench.do({ type: 'adjustment-decided', set: 'as-found', adjustment: null, proposed: null, reason: '' });
    // What stands at the end of the run comes after everything else.
    expect(nextItem(bench.state)).toMatchObject({ type: 'step', id: 'note' });
    expect(stageOf(bench.state, nextItem(bench.state))).toBe('finish');
    const { remarks } = certificateOf(bench.playTo('end').state, { name: 'Room', address: '' });
    expect(remarks).toEqual(['Mode: Fast: Slow is broken', 'Twice: 11.8 V: Known for this one']);
  });
});

describe('a set of its own', () => {
  const document = {
    standards: [
      { role: 'main', title: 'Source', kinds: ['source'], several: true },
      { role: 'other', title: 'Other source', kinds: ['source'], independent: true },
    ],
    series: [
      { id: 'error', title: 'Error', points: { unit: 'V', list: [5] }, observe: [reads()], results: [errorOf('R', 0.1)] },
      {
        id: 'span',
        title: 'Span as left',
        sets: ['as-left'],
        points: { unit: 'V', list: [9] },
        observe: [reads()],
        results: [errorOf('R', 0.1)],
      },
      {
        id: 'again',
        title: 'Against the other',
        sets: ['check'],
        uses: { other: { at: 'S' } },
        points: { unit: 'V', list: [7] },
        observe: [{ id: 'S', title: 'Source', of: 'other', unit: 'V' }, reads()],
      },
    ],
  };
  const standards = {
    main: [source('s-1'), source('s-2')],
    other: [
      source('s-3', {
        corrections: [
          { at: 0, correction: 0, expandedUncertainty: 0.01, coverageFactor: 2 },
          { at: 10, correction: 0, expandedUncertainty: 0.01, coverageFactor: 2 },
        ],
      }),
    ],
  };
  it('as left is read though nothing was adjusted, and the independent check comes at the end', () => {
    const bench = showing(new TestBench(setup(document, { standards })), (n) => n).playTo('end');
    expect(bench.state.sets.map((s) => s.id)).toEqual(['as-found', 'as-left', 'check']);
    expect([setAsLeft(bench.state, 'error'), setAsLeft(bench.state, 'span')]).toEqual(['as-found', 'as-left']);
    expect(verdictAsLeft(bench.state)).toBe('pass');
    const certificate = certificateOf(bench.state, { name: 'Room', address: '' });
    expect(certificate.check).toMatchObject({ title: 'Independent check', incomplete: null });
    expect(certificate.standards.map((s) => s.identification)).toEqual(['S-1', 'S-2', 'S-3']);
  });
  it('refuses more standards than a role takes, and one of another kind', () => {
    const with2 = { ...standards, other: [source('s-3'), source('s-4')] };
    expect(() => new TestBench(setup(document, { standards: with2 }))).toThrow('choose one');
    const without = source('s-5');
    const { certificate: _certificate, ...bare } = without.document;
    expect(() => new TestBench(setup(document, { standards: { ...standards, main: [{ ...without, document: bare }] } }))).toThrow(
      'has no certificate',
    );
  });
});

describe('readings and conditions in their places', () => {
  const document = {
    conditions: [{ id: 'air', title: 'Air', unit: 'Cel', lower: 18, upper: 24, recorded: 'point' }],
    series: [
      {
        id: 'error',
        title: 'Error',
        points: { unit: 'V', list: [2, 4] },
        sweeps: [
          { id: 'up', title: 'Up' },
          { id: 'down', title: 'Down', backwards: true },
        ],
        observe: [{ id: 'Z', title: 'Zero', of: 'instrument', unit: 'V', per: 'sweep', lower: -0.1, upper: 0.1 }, reads()],
        computed: [{ id: 'd', is: 'R - Z' }],
        results: [{ ...errorOf('d', 0.1), indication: { is: 'd' } }],
      },
    ],
  };
  const slotsOf = (bench: TestBench) =>
    bench.state.plan.flatMap((i) => (i.type === 'reading' ? [`${i.id} ${i.point} ${i.sweep}`] : []));
  it('an observation once a passage stands before its first reading, and conditions at every point', () => {
    const bench = new TestBench(setup(document));
    expect(slotsOf(bench)).toEqual(['Z p1 up', 'R p1 up', 'R p2 up', 'Z p2 down', 'R p2 down', 'R p1 down']);
    expect(conditionsNow(bench.state)).toMatchObject([{ id: 'air', point: 'p1' }]);
    expect(bench.try({ type: 'conditions-recorded', set: 'as-found', values: { air: '20' } })).toContain('not what comes next');
    expect(conditionsNow(bench.state)).toMatchObject([{ id: 'air', point: 'p1' }]);
    expect(
      bench.try({
        type: 'conditions-recorded',
        set: 'as-found',
        series: 'error',
        point: 'p1',
        sweep: 'up',
        repeat: 1,
        values: {},
      }),
    ).toContain('missing');
    const zero = (text: string, reason?: string) =>
      bench.try({
        type: 'observed',
        set: 'as-found',
        series: 'error',
        point: 'p1',
        sweep: 'up',
        repeat: 1,
        observation: 'Z',
        text,
        ...(reason ? { reason } : {}),
      });
    bench.playTo('reading');
    expect(zero('0.2')).toContain('Read it again, or give the reason');
    expect(zero('0.2', 'It drifts')).toBeNull();
    bench.shown.reading = (state, slot) =>
      slot.observation === 'Z'
        ? '0.00'
        : state.places
            .get('as-found|error|')!
            .points.find((p) => p.id === slot.point)!
            .nominal!.toFixed(2);
    bench.playTo('judge');
    const points = evaluationIn(bench.state, 'as-found').series[0]!.points;
    // The passage up is worked out with its own zero, the one down with the other.
    expect(points.map((p) => [p.id, p.sweep, Number(estimateOf(p.results['E']).toFixed(3))])).toEqual([
      ['p1', 'up', -0.2],
      ['p2', 'up', -0.2],
      ['p1', 'down', 0],
      ['p2', 'down', 0],
    ]);
    expect(certificateOf(bench.playTo('end').state, { name: 'Room', address: '' }).remarks.join(' ')).toContain(
      '0.2 kept: It drifts',
    );
  });
  it('withdrawn readings are taken again, and stay in the log', () => {
    const bench = showing(new TestBench(setup(document)), () => 0).playTo('reading');
    const item = nextItem(bench.state);
    if (item?.type !== 'reading') throw new Error('no reading');
    bench.do({ type: 'observed', ...slotOf(item), text: '0.00' });
    bench.do({ type: 'withdrawn', set: 'as-found', series: 'error', reason: 'Wrong socket' });
    expect(bench.state.live.size).toBe(0);
    expect(bench.state.readings[0]!.struck!.reason).toBe('Wrong socket');
    expect(nextItem(bench.state)).toMatchObject({ type: 'reading', id: 'Z', point: 'p1', sweep: 'up' });
  });
});

describe('a gate', () => {
  it('is decided by the passage that it stands behind, not by another', () => {
    const bench = new TestBench(
      setup({
        series: [
          {
            id: 'error',
            title: 'Error',
            points: { unit: 'V', list: [5] },
            sweeps: [
              { id: 'up', title: 'up' },
              { id: 'down', title: 'down' },
            ],
            observe: [reads()],
            results: [{ ...errorOf('R', 0.3), gate: true }],
          },
        ],
      }),
    );
    bench.shown.reading = (_state, slot) => (slot.sweep === 'up' ? '5.40' : '5.00');
    const standing = () => {
      const item = nextItem(bench.playTo('gate').state)!;
      if (item.type !== 'gate') throw new Error('no gate');
      return { sweep: item.sweep, passes: gateStanding(bench.state, item).passes, item };
    };
    const first = standing();
    const { item, passes } = first;
    bench.do({ type: 'gate-passed', ...placeOf(item), id: item.id, passes, reason: 'Looked for the cause' });
    const second = standing();
    expect([first.sweep, second.sweep]).toEqual(['up', 'down']);
    expect([first.passes, second.passes]).toEqual([false, true]);
  });
});

describe('a file that is read', () => {
  const document = {
    series: [
      {
        id: 'shape',
        title: 'Shape',
        observe: [{ id: 'F', title: 'Points', of: 'instrument', type: 'file' }],
        analyses: [{ use: 'dimensional/circle', of: 'F', as: 'c' }],
        aggregates: [
          {
            id: 'form',
            title: 'Form',
            unit: 'mm',
            of: 'c.form',
            over: ['repeats'],
            statistic: 'mean',
            tolerance: { upper: 0.01 },
          },
        ],
      },
    ],
  };
  const circle = (radius: (i: number) => number) =>
    Array.from(
      { length: 12 },
      (_, i) => `${radius(i) * Math.cos((i * Math.PI) / 6)} ${radius(i) * Math.sin((i * Math.PI) / 6)}`,
    ).join('\n');
  it('is analysed, and what it gives is judged', () => {
    const read = (text: string) => {
      const bench = new TestBench(setup(document));
      bench.do({ type: 'observed', set: 'as-found', series: 'shape', point: 'p1', repeat: 1, observation: 'F', text });
      return verdictAsFound(bench.state);
    };
    expect(read(circle(() => 10))).toBe('pass');
    expect(read(circle((i) => (i === 3 ? 10.1 : 10)))).toBe('fail');
  });
  it('is refused when it is given, where nothing can be worked out of it', () => {
    const bench = new TestBench(setup(document));
    const given = (text: string) =>
      bench.try({ type: 'observed', set: 'as-found', series: 'shape', point: 'p1', repeat: 1, observation: 'F', text });
    expect(given('hello world')).toContain('Line 1 of the file is not a line of numbers: "hello world"');
    expect(given('1 2\n3 4')).toContain('Look whether it is the right file');
    expect(bench.state.live.size).toBe(0);
    expect(given(circle(() => 10))).toBeNull();
  });
});
