import { describe, expect, it } from 'vitest';
import { answerVerb } from '../door/verbs';
import { betterPlans, planDay } from './day';
import { daySchema, type DayAnswer } from './day-schema';
import { byRule, drawSmallWeek, drawWeek, faultsOf, valueInTime, type Rule } from './fixtures/draw-week';
import { bestValue } from './fixtures/search-through';
import { Load } from './load';

const ask = (more: object) => daySchema.parse({ from: 480, to: 990, ...more });
const plan = (more: object): DayAnswer => {
  const question = ask(more);
  const answer = planDay(question);
  expect(faultsOf(question, answer)).toEqual([]);
  return answer;
};
const times = ({ entries }: DayAnswer, job: string) => entries.filter((e) => e.job === job).map((e) => [e.from, e.to]);
const hands = (minutes: number, ...uses: string[]) => ({ handsOn: minutes, uses });
const wait = (minutes: number, more: object = {}) => ({ wait: minutes, ...more });

describe('room', () => {
  it('is found beside what is taken, and is there again when that is given back', () => {
    const load = new Load(1);
    load.take(10, 20, 1);
    load.take(20, 25, 1);
    expect([load.room(0, 10), load.room(0, 11), load.room(12, 5), load.room(30, 5), load.room(15, 0)]).toEqual([
      0, 25, 25, 30, 15,
    ]);
    load.take(10, 20, -1);
    expect([load.room(0, 20), load.room(0, 21)]).toEqual([0, 25]);
    expect(new Load(0).room(5, 1)).toBe(Infinity);
  });
  it('of two places, one is taken twice before there is none', () => {
    const load = new Load(2);
    load.take(10, 30, 1);
    load.take(20, 40, 1);
    expect([load.room(10, 10), load.room(15, 10)]).toEqual([10, 30]);
  });
});

describe('waits woven together', () => {
  it('work goes on beside a wait, and the waits of several run at once', () => {
    const jobs = ['a', 'b'].map((id) => ({ id, steps: [hands(10), wait(60), hands(10)] }));
    const answer = plan({ jobs });
    expect(answer.entries.at(-1)!.to).toBe(480 + 10 + 60 + 10 + 10);
    expect(answer.finished).toEqual(['a', 'b']);
  });
  it('a wait runs over the night by itself, hands do not', () => {
    expect(times(plan({ days: 2, jobs: [{ id: 'a', steps: [hands(500), wait(60), hands(20)] }] }), 'a')).toEqual([
      [480, 980],
      [980, 1040],
      [1920, 1940],
    ]);
  });
  it('a wait begins later where the next step would come too late after it', () => {
    const [, soak, read] = times(
      plan({ days: 2, jobs: [{ id: 'a', steps: [hands(480), wait(60, { atMost: 30 }), hands(20)] }] }),
      'a',
    );
    expect(read![0]).toBe(1920);
    expect(soak).toEqual([1830, 1890]);
  });
  it('a place is held for as long as the step that uses it, by as many as there are places', () => {
    const jobs = ['a', 'b', 'c'].map((id) => ({ id, steps: [hands(5), wait(100, { uses: ['bath'] })] }));
    const ends = (bath: number) => Math.max(...plan({ resources: { bath }, jobs }).entries.map((e) => e.to));
    expect([ends(1), ends(2), ends(3)]).toEqual([785, 685, 595]);
  });
  it('two people do two things at a time, each one', () => {
    const jobs = ['a', 'b', 'c', 'd'].map((id) => ({ id, steps: [hands(255)] }));
    const answer = plan({ people: 2, jobs });
    expect(answer.finished).toHaveLength(4);
    expect(new Set(answer.entries.map((e) => e.person))).toEqual(new Set([0, 1]));
  });
  it('nothing begins before the minute from which it may', () =>
    expect(times(plan({ jobs: [{ id: 'a', notBefore: 601, steps: [hands(10)] }] }), 'a')).toEqual([[601, 611]]));
  it('nothing begins before the day from which it may', () =>
    expect(times(plan({ days: 3, jobs: [{ id: 'a', ready: 1, steps: [hands(10)] }] }), 'a')).toEqual([[1920, 1930]]));
});

describe('what counts', () => {
  it('value in time goes before number, and value at all before nothing', () => {
    const jobs = [
      { id: 'great', due: 0, value: 5, steps: [hands(300)] },
      { id: 'small', due: 0, value: 2, steps: [hands(250)] },
      { id: 'least', due: 0, value: 2, steps: [hands(250)] },
    ];
    expect(plan({ days: 1, jobs })).toMatchObject({ finished: ['great'], late: [] });
    const two = plan({ days: 2, jobs });
    expect(two).toMatchObject({ finished: ['great', 'small', 'least'], late: ['small', 'least'] });
    expect(two.why['small']).toMatch(/worth more before its day/);
  });
  it('the same value is had as early as can be', () => {
    const jobs = [
      { id: 'long', steps: [hands(200)] },
      { id: 'short', steps: [hands(20)] },
    ];
    expect(times(plan({ jobs }), 'short')).toEqual([[480, 500]]);
  });
  it('a step waits for another where both then fit', () => {
    // J1 fits only into the gap of J5 that is made by its last step waiting half an hour longer than it must.
    const jobs = [
      { id: 'J1', value: 2, steps: [hands(30), wait(150), hands(60, 'bath')] },
      { id: 'J2', due: 0, value: 5, steps: [hands(30), wait(120, { uses: ['bath'], atMost: 90 }), hands(30, 'bath')] },
      { id: 'J5', ready: 1, value: 5, steps: [hands(60, 'bath'), wait(30, { atMost: 30 }), hands(60, 'bath')] },
    ];
    expect(plan({ to: 660, days: 2, resources: { bath: 1 }, jobs }).finished).toEqual(['J1', 'J2', 'J5']);
  });
  it('says of what is left why', () => {
    const { why, finished } = plan({
      days: 2,
      resources: { bath: 0 },
      jobs: [
        { id: 'long', steps: [hands(600)] },
        { id: 'bath', steps: [hands(10, 'bath')] },
        { id: 'soon', due: 0, steps: [hands(400), wait(60), hands(100)] },
        { id: 'stuck', steps: [hands(400), wait(1000, { atMost: 0 }), hands(500)] },
      ],
    });
    expect(finished).not.toContain('long');
    expect(why['long']).toContain('fits in no day');
    expect(why['bath']).toContain('no place');
    expect(why['soon']).toContain('Even alone it ends on day 1');
    expect(Object.keys(why)).not.toContain('nothing');
  });
  it('with nobody there only what needs no hands is done', () =>
    expect(
      plan({
        people: 0,
        jobs: [
          { id: 'a', steps: [hands(5)] },
          { id: 'b', steps: [wait(5)] },
        ],
      }),
    ).toMatchObject({
      finished: ['b'],
      why: { a: 'Nobody is there.' },
    }));
});

describe('a week with more work than time', () => {
  const rules: Rule[] = ['first come', 'nearest due', 'least work'];
  it('keeps every rule, and holds more in time than rules of thumb', () => {
    let [mine, first, best] = [0, 0, 0];
    for (let seed = 1; seed <= 6; seed++) {
      const week = drawWeek(seed, seed > 4 ? { people: 2, days: 3 } : {});
      const answer = planDay(week);
      expect(faultsOf(week, answer)).toEqual([]);
      const byThumb = rules.map((rule) => valueInTime(week, byRule(week, rule)));
      expect(valueInTime(week, answer) / Math.max(...byThumb)).toBeGreaterThan(1.05);
      mine += valueInTime(week, answer);
      first += byThumb[0]!;
      best += Math.max(...byThumb);
    }
    expect(mine / first).toBeGreaterThan(1.8);
    expect(mine / best).toBeGreaterThan(1.4);
  });
  it('that is small is planned as well as can be', () => {
    let [mine, best] = [0, 0];
    for (let seed = 1; seed <= 12; seed++) {
      const week = drawSmallWeek(seed);
      mine += valueInTime(week, planDay(week));
      best += bestValue(week, 30);
    }
    expect(mine / best).toBeGreaterThan(0.97);
    expect(mine).toBeLessThanOrEqual(best);
  });
  it('gives a good plan early and better ones later, each whole', () => {
    const week = drawWeek(3);
    const plans = [...betterPlans(week)];
    expect(plans.length).toBeGreaterThan(2);
    const values = plans.map((p) => valueInTime(week, p));
    expect(values).toEqual([...values].sort((a, b) => a - b));
    expect(faultsOf(week, plans[0]!)).toEqual([]);
  });
  it('the same question has the same answer', () => expect(planDay(drawSmallWeek(3))).toEqual(planDay(drawSmallWeek(3))));
});

describe('what cannot be asked', () => {
  const refusal = async (more: object) => {
    const answer = await answerVerb('day', JSON.stringify({ from: 480, to: 990, ...more }));
    return answer.ok ? null : answer.refusal.error;
  };
  it.each([
    [{ to: 480 }, ['to'], 'ends before'],
    [{ jobs: [{ id: 'a', steps: [] }] }, ['jobs', 0, 'steps'], ''],
    [{ jobs: [{ id: 'a', steps: [hands(5, 'bath')] }] }, ['jobs', 0, 'steps', 0, 'uses'], 'not among the resources'],
    [
      {
        jobs: [
          { id: 'a', steps: [hands(5)] },
          { id: 'a', steps: [hands(5)] },
        ],
      },
      ['jobs', 1, 'id'],
      'twice',
    ],
    [{ days: 400 }, ['days'], 'At most 60 days'],
  ])('%j is refused at %j', async (more, path, words) => {
    const error = (await refusal(more))!;
    expect(error.path).toEqual(path);
    expect(error.message).toContain(words);
  });
  it('more work than a year is answered all the same', async () => {
    const jobs = Array.from({ length: 400 }, (_, i) => ({
      id: `J${i}`,
      due: i % 5,
      steps: Array.from({ length: 10 }, (_s, k) => (k % 2 ? wait(60, { atMost: 120 }) : hands(40))),
    }));
    const answer = planDay(ask({ days: 5, jobs }));
    expect(answer.finished.length).toBeGreaterThan(8);
    expect(Object.keys(answer.why)).toHaveLength(400 - answer.finished.length + answer.late.length);
  });
});
