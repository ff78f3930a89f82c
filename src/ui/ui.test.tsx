import { renderToStaticMarkup } from 'react-dom/server';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { askServer, isUnreachable } from './ask-server';
import { timeLeft } from './clock';
import { Decimal } from './Decimal';
import { DueTrack, DueWords } from './DueTrack';
import { newKey } from './new-key';
import { PairMark, type Mark } from './PairMark';
import { ruleWords } from './rule-words';
import { SummaryMark } from './SummaryMark';
import { VerdictWord } from './VerdictWord';

const mark = (value: number): Mark => ({ value, expandedUncertainty: 0.001 });
const numbers = (html: string, tag: string, attribute: string): number[] =>
  [...html.matchAll(new RegExp(`<${tag}[^>]* ${attribute}="([^"]+)"`, 'g'))].map((m) => Number(m[1]));

describe('the pair mark', () => {
  const draw = (found: Mark | null, left: Mark | null) =>
    renderToStaticMarkup(
      <PairMark
        limits={{ lower: -0.004, upper: 0.004 }}
        found={found}
        left={left}
        unit="mm"
        shownIn="um"
        width={240}
        height={30}
      />,
    );
  it('stands to the scale of the tolerance: zero in the middle, a limit two thirds of the way out', () => {
    expect(numbers(draw(mark(0), null), 'circle', 'cx')).toEqual([120]);
    expect(numbers(draw(mark(0.004), null), 'circle', 'cx')).toEqual([200]);
    expect(numbers(draw(mark(-0.002), null), 'circle', 'cx')).toEqual([80]);
  });
  it('has a whisker from its value less U to its value plus U', () => {
    const html = draw({ value: 0.001, expandedUncertainty: 0.002 }, null);
    // 0.001 mm is 20 px here, the middle 120 px.
    expect(html).toContain('x1="100" x2="180"');
    expect(draw({ value: 0.001, expandedUncertainty: null }, null)).not.toContain('x1="100"');
  });
  it('is a hollow ring found and a filled dot left, joined by a stem', () => {
    const html = draw(mark(0.003), mark(0));
    expect(html).toContain('fill="var(--color-sheet)"');
    expect(html).toContain('fill="var(--color-ink)"');
    expect(html).toContain('x1="180" y1="10" x2="120" y2="20"');
    expect(draw(mark(0.003), null)).not.toContain('y2="20"');
  });
  it('says in words what it shows, for those who do not see it', () => {
    expect(draw(mark(0.0031), mark(-0.0002))).toContain('aria-label="as found +3.1 µm, as left −0.2 µm, limits ±4 µm"');
  });
  it('points over the edge when an error is off the strip, and marks it as outside', () => {
    const html = draw(mark(0.02), null);
    expect(html).not.toContain('<circle');
    expect(html).toContain('<path');
    expect(html).toContain('var(--color-brick)');
    expect(draw(mark(0.0039), null)).not.toContain('var(--color-brick)');
  });
  it('with one limit the strip runs from zero to it; with limits that exclude zero their middle is its middle', () => {
    const one = renderToStaticMarkup(
      <PairMark
        limits={{ lower: null, upper: 0.1 }}
        found={{ value: 0.05, expandedUncertainty: null }}
        left={null}
        unit="K"
        width={240}
      />,
    );
    expect(numbers(one, 'circle', 'cx')).toEqual([120]);
    expect(one).toContain('limits at most 0.1 K');
    const two = renderToStaticMarkup(
      <PairMark
        limits={{ lower: 90, upper: 110 }}
        found={{ value: 110, expandedUncertainty: 1 }}
        left={null}
        unit="Hz"
        width={240}
      />,
    );
    expect(numbers(two, 'circle', 'cx')).toEqual([200]);
    expect(renderToStaticMarkup(<PairMark limits={{ lower: null, upper: null }} found={null} left={null} unit="1" />)).toBe('');
  });
  it('in a summary two values stand on one strip only where they are of the same thing', () => {
    const value = {
      verdict: 'pass' as const,
      what: 'Error',
      point: '',
      value: 0.1,
      expandedUncertainty: 0.02,
      lower: -1,
      upper: 1,
      toleranceUsed: 0.1,
      unit: 'K',
      shownIn: 'K',
    };
    const draw = (left: typeof value) => renderToStaticMarkup(<SummaryMark summary={{ found: value, left, adjusted: true }} />);
    expect(draw({ ...value, value: 0 })).toContain('as left');
    expect(draw({ ...value, what: 'Hysteresis' })).not.toContain('as left');
    expect(draw({ ...value, point: '20 mm' })).not.toContain('as left');
    expect(renderToStaticMarkup(<SummaryMark summary={null} />)).toBe('');
  });
});

describe('words and signs', () => {
  it.each([
    ['pass', 'pass'],
    ['conditional-pass', 'conditional pass'],
    ['conditional-fail', 'conditional fail'],
    ['fail', 'fail'],
    ['not-determined', 'not determined'],
    [null, 'not judged'],
  ] as const)('a verdict of %s has a sign and the words "%s"', (verdict, words) => {
    const html = renderToStaticMarkup(<VerdictWord verdict={verdict} />);
    expect(html).toContain(words);
    expect(html).toContain('<svg');
  });
  it('pads a number so that points stand under each other', () => {
    expect(renderToStaticMarkup(<Decimal text="-1.5" places={3} />)).toMatch(/−1\.5<span[^>]*>00<\/span>/);
    expect(renderToStaticMarkup(<Decimal text="12" places={2} />)).toMatch(/12<span[^>]*>000<\/span>/);
  });
  it('a due date is told in words, late ones in bold', () => {
    expect(renderToStaticMarkup(<DueWords standing={{ standing: 'expired', days: -3 }} />)).toMatch(
      /font-bold[^>]*>3 days overdue/,
    );
    expect(renderToStaticMarkup(<DueWords standing={{ standing: 'good', days: 200 }} />)).toContain('in 7 months');
  });
  it('overdue lies left of today and is drawn no further than its line', () => {
    const [, barOf] = [0, (days: number) => numbers(renderToStaticMarkup(<DueTrack days={days} />), 'line', 'x2')[1]!];
    const today = numbers(renderToStaticMarkup(<DueTrack days={0} />), 'line', 'x1')[2]!;
    expect(barOf(-10)).toBeLessThan(today);
    expect(barOf(10)).toBeGreaterThan(today);
    expect(barOf(5000)).toBeLessThanOrEqual(200);
    expect(barOf(-5000)).toBeGreaterThanOrEqual(0);
  });
});

describe('a decision rule in words', () => {
  it.each([
    [{ kind: 'guard-band', factor: 1 }, 'Limits drawn in by U; conditional between.'],
    [{ kind: 'simple', minimumRatio: 4 }, 'Simple acceptance, ratio at least 4.'],
  ] as const)('%o', (rule, words) => expect(ruleWords(rule)).toBe(words));
  it('tells the probability that it allows', () =>
    expect(ruleWords({ kind: 'maximum-false-accept', probability: 0.02 })).toContain('2 %'));
});

describe('time left', () => {
  const at = (seconds: number) => new Date(Date.UTC(2026, 10, 24, 8) + seconds * 1000).toISOString();
  it.each([
    [0, '0:00'],
    [-5, '0:00'],
    [59, '0:59'],
    [750, '12:30'],
    [3600, '1:00:00'],
    [3909, '1:05:09'],
  ])('%d seconds are %s', (seconds, text) => expect(timeLeft(at(seconds), at(0))).toBe(text));
});

describe('asking the server', () => {
  afterEach(() => vi.unstubAllGlobals());
  const answering = (response: Response | Error) =>
    vi.stubGlobal(
      'fetch',
      vi.fn(() => (response instanceof Error ? Promise.reject(response) : Promise.resolve(response))),
    );
  const refusalOf = async () => {
    const answer = await askServer('POST', '/x', {});
    if (answer.ok) throw new Error('It was accepted.');
    return answer.refusal;
  };
  it('hands on what came back', async () => {
    answering(Response.json({ a: 1 }));
    expect(await askServer('GET', '/x')).toEqual({ ok: true, body: { a: 1 } });
  });
  it('tells how far something long is, and takes its last line, also where that is a refusal', async () => {
    const inLines = (...lines: unknown[]) =>
      vi.stubGlobal('fetch', async () => {
        // In pieces that end where they will.
        const text = lines.map((l) => `${JSON.stringify(l)}\n`).join('');
        const pieces = [text.slice(0, 17), text.slice(17, 40), text.slice(40)];
        const body = new ReadableStream({
          pull: (c) => (pieces.length ? c.enqueue(new TextEncoder().encode(pieces.shift())) : c.close()),
        });
        return new Response(body, { headers: { 'content-type': 'application/x-ndjson; charset=utf-8' } });
      });
    const told: unknown[] = [];
    inLines({ progress: { done: 1, of: 2 } }, { progress: { done: 2, of: 2 } }, { a: 1 });
    expect(await askServer('POST', '/x', {}, { onProgress: (p) => told.push(p) })).toEqual({ ok: true, body: { a: 1 } });
    expect(told).toEqual([
      { done: 1, of: 2 },
      { done: 2, of: 2 },
    ]);
    inLines({ progress: { done: 1, of: 2 } }, { error: { message: 'Not so.', path: ['a'] } });
    expect(await askServer('POST', '/x', {})).toMatchObject({ ok: false, refusal: { message: 'Not so.', path: ['a'] } });
  });
  it('a server that is gone is unreachable, and nothing was refused', async () => {
    answering(new TypeError('fetch failed'));
    const refusal = await refusalOf();
    expect(isUnreachable(refusal)).toBe(true);
    expect(refusal.message).toContain('does not answer');
  });
  it('a refusal keeps its words, its path and what else it carries', async () => {
    answering(Response.json({ error: { message: 'Not so.', path: ['act'], missed: [1] } }, { status: 409 }));
    const refusal = await refusalOf();
    expect(refusal).toEqual({ status: 409, message: 'Not so.', path: ['act'], details: { missed: [1] } });
    expect(isUnreachable(refusal)).toBe(false);
  });
  it('an answer that is no JSON is said to be unreadable', async () => {
    answering(new Response('<html>', { status: 500 }));
    expect((await refusalOf()).message).toContain('cannot be read');
  });
  it('a gateway that has lost the server counts as unreachable', async () => {
    answering(new Response('bad gateway', { status: 502 }));
    expect(isUnreachable(await refusalOf())).toBe(true);
  });
  it('keys are UUIDs of version 4, each its own', () => {
    const keys = Array.from({ length: 200 }, newKey);
    for (const key of keys) expect(key).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
    expect(new Set(keys).size).toBe(200);
  });
});

describe('a strip with one limit', () => {
  it.each([
    ['at least', { lower: 10, upper: null }, 12],
    ['at most', { lower: null, upper: 2 }, 0.4],
  ])('%s is drawn, with what lies on its open side accepted', (_what, limits, value) => {
    const html = renderToStaticMarkup(
      <PairMark limits={limits} found={{ value, expandedUncertainty: 0.1 }} left={null} unit="mm" />,
    );
    expect(html).toContain('<circle');
    expect(html).not.toContain('brick');
    expect(html).not.toContain(`+${value}`);
  });
});
