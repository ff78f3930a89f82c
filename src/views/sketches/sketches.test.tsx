import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import { plainAct } from '../../bench/technician';
import { setups, TestBench } from '../../core/run/fixtures/bench';
import { nextItem } from '../../core/run/next-step';
import { slotOf } from '../../core/state/place-keys';
import type { Slot } from '../../core/state/run-state';
import { Sketch } from './Sketch';

const here = (bench: TestBench): Slot =>
  slotOf(nextItem(bench.state) as Extract<ReturnType<typeof nextItem>, { type: 'reading' }>);
const draw = (name: string, bench: TestBench): string =>
  renderToStaticMarkup(<Sketch name={name} state={bench.state} slot={here(bench)} />);
const count = (html: string, pattern: RegExp): number => [...html.matchAll(pattern)].length;

/** Reads until a series is the present one, and so many readings of it are there. */
function at(setup: string, series: string, readings: number): TestBench {
  const bench = new TestBench(setups[setup]!());
  bench.shown.reading = (state, slot) => bench.certified(state, slot).toFixed(setup === 'thermometer-in-bath' ? 2 : 3);
  bench.prepared();
  const taken = () => [...bench.state.live.values()].filter((r) => r.slot.series === series).length;
  while ((nextItem(bench.state) as { series?: string }).series !== series || taken() < readings)
    bench.do(plainAct(bench.state, bench.shown, bench.at)!);
  return bench;
}

describe('what is drawn beside an entry', () => {
  it('a name that is not known draws nothing: the sheet alone is good', () => {
    const bench = TestBench.micrometer().prepared();
    expect(draw('mystery', bench)).toBe('');
    expect(renderToStaticMarkup(<Sketch name={undefined} state={bench.state} slot={here(bench)} />)).toBe('');
  });
  it('scale: what has been read is said, with the limits it is held against', () => {
    const html = draw('scale', at('outside-micrometer', 'error', 12));
    expect(html).toContain('Error along the range, limits ±4 µm');
    const said = /aria-label="Error so far, in µm: ([^"]*)"/.exec(html)![1]!.split('; ');
    expect(said.length).toBeGreaterThanOrEqual(4);
    for (const s of said) expect(s).toMatch(/^[\d.]+ mm -?[\d.e-]+$/);
  });
  it('pan: each place of the load, the present one told, what was read beside it', () => {
    const html = draw('pan', at('balance', 'corners', 2));
    expect(html).toMatch(/role="img"/);
    expect(html.toLowerCase()).toMatch(/front|back|left|right|centre/);
    expect(count(html, /<circle/g)).toBeGreaterThanOrEqual(5);
  });
  it('trend: the readings of one place with their mean and range in their unit', () => {
    const bench = new TestBench(setups['thermometer-in-bath']!());
    let step = 0;
    bench.shown.reading = (state, slot) => (bench.certified(state, slot) + 0.002 * (step++ % 3)).toFixed(3);
    bench.prepared();
    while ((nextItem(bench.state) as { type: string }).type !== 'reading' || bench.state.live.size < 4)
      bench.do(plainAct(bench.state, bench.shown, bench.at)!);
    const html = draw('trend', bench);
    expect(html).toMatch(/\d readings, mean/);
    expect(html).toContain('°C');
    const said = Number(/(\d+) readings/.exec(html)![1]);
    expect(count(html, /<circle/g)).toBe(said);
  });
  it('vessel: of a bath there is no shaft to draw, only whether it stands', () => {
    const bench = at('thermometer-in-bath', 'error', 8);
    expect(draw('vessel', bench)).toBe(draw('trend', bench));
    expect(draw('vessel', bench)).not.toContain('Shaft');
  });
  it('vessel: a shaft stands off the middle in the share of its limit', () => {
    const html = draw('vessel', at('outside-micrometer', 'error', 3));
    expect(html).toContain('Shaft off the middle, µm; the dashed ring is the limit.');
    expect(count(html, /<svg/g)).toBe(10);
  });
  it('dial: marks along the range, the needle at the present point', () => {
    const html = draw('dial', at('outside-micrometer', 'error', 6));
    expect(html).toContain('aria-label="The needle is wanted at 7.7 mm"');
    // Read ones are strong, the others faint.
    expect(count(html, /stroke="var\(--color-verdigris\)" stroke-width="5"/g)).toBe(2);
    expect(count(html, /stroke-width="2.5"/g)).toBe(8);
  });
  it('reflection: the locus of the file that was read, its outward steps marked; nothing where no file can be read', () => {
    const state = (text: string) => {
      const slot = { set: 'as-found', series: 'line', point: 'p1', repeat: 1, observation: 'trace' };
      const reading = { slot, text, value: text, sequence: 9, at: '', person: '', reason: null, struck: null };
      return {
        slot,
        state: {
          procedure: { series: [{ id: 'line', observe: [{ id: 'trace', type: 'file' }] }] },
          live: new Map([['x', reading]]),
        },
      };
    };
    const drawn = (text: string) =>
      renderToStaticMarkup(
        <Sketch name="reflection" {...(state(text) as never as Omit<Parameters<typeof Sketch>[0], 'name'>)} />,
      );
    const spiral = drawn('# GHz S MA R 50\n1 0.98 0\n2 0.95 -90\n3 0.91 -180');
    expect(spiral).toContain('Reflection from 0.980 to 0.910, never outward');
    // At 1 GHz on the right, at 2 GHz below, at 3 GHz on the left.
    expect(spiral).toContain('points="204.1,110.0 110.0,201.2 22.6,110.0"');
    expect(drawn('# GHz S MA R 50\n1 0.95 0\n2 0.97 -90\n3 0.91 -180')).toContain('1 step outward');
    expect(drawn('no network')).toBe('');
  });
});
