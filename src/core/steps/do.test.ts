import { describe, expect, it } from 'vitest';
import { setups, TestBench } from '../run/fixtures/bench';
import { settingIn } from '../run/run-results';
import { keyedFigure } from './do';
import type { StepContext } from './step-context';

describe('a number that something to be done needs', () => {
  const { state } = new TestBench(setups['pressure-transmitter']!());
  const context = {
    state,
    setting: () => settingIn(state, 'as-found'),
    place: { set: 'as-found' },
    step: { kind: 'do', id: 'x', title: 'Set', instruction: 'Set it.' },
    now: state.startedAt,
  } as StepContext<'do'>;
  it.each([
    ['32.937412', 0.1, '32.9'],
    ['32.96', 0.1, '33.0'],
    ['-0.0002', 0.001, '0.000'],
    ['-0.000789014', 0.001, '−0.001'],
    ['0.6', undefined, '0.6'],
    ['57.74', undefined, '57.74'],
    ['1234.5678', undefined, '1234.57'],
    ['-2', undefined, '−2'],
  ])('%s to the step %s is keyed in as %s', (is, step, keyed) =>
    expect(keyedFigure(context, { title: 'N', unit: 'V', is, ...(step === undefined ? {} : { step }) })).toBe(keyed),
  );
  it('is not told before it is known', () =>
    expect(keyedFigure(context, { title: 'N', unit: 'V', is: 'step.nothing' })).toBeNull());
});
