import ICAL from 'ical.js';
import { expect, it } from 'vitest';
import type { DayWork } from '../../core/day/day-board';
import { dayCalendar } from './day-calendar';

const work: DayWork = {
  id: 'a',
  address: '/instruments/a?start',
  identification: 'FW-04\r\nBEGIN:VALARM',
  owner: 'Foundry; pattern shop, lathes',
  due: null,
  isOnBench: false,
  steps: [
    { title: 'Identity', minutes: 10, isWait: false, uses: [] },
    { title: 'Soak', minutes: 960, isWait: true, uses: [] },
    { title: 'Error of indication', minutes: 45, isWait: false, uses: ['QM-GB-47'] },
  ],
  cautions: [],
};

it('hands are events at the laboratory’s time, on the day that is meant; waits are none, and no text becomes a line of its own', () => {
  const entries = [
    { job: 'a', step: 0, from: 485, to: 495, person: 0 },
    { job: 'a', step: 1, from: 495, to: 1455 },
    { job: 'a', step: 2, from: 1440 + 480, to: 1440 + 525, person: 1 },
    { job: 'gone', step: 0, from: 500, to: 510, person: 0 },
  ];
  const text = dayCalendar({ entries, finished: ['a'], late: [], why: {} }, [work], ['2026-12-04', '2026-12-07'], 'http://lab');
  const events = new ICAL.Component(ICAL.parse(text) as never)
    .getAllSubcomponents('vevent')
    .map((component) => ({ component, event: new ICAL.Event(component) }));
  expect(events.map(({ event: e }) => [e.startDate.toString(), e.endDate.toString()])).toEqual([
    ['2026-12-04T08:05:00', '2026-12-04T08:15:00'],
    ['2026-12-07T08:00:00', '2026-12-07T08:45:00'],
  ]);
  expect(events[1]!.event.summary).toContain('Error of indication');
  expect(events[1]!.event.description).toBe('Foundry; pattern shop, lathes, with QM-GB-47, person 2');
  expect(events[1]!.component.getFirstPropertyValue('url')).toBe('http://lab/instruments/a?start');
  expect(events[0]!.component.getAllSubcomponents('valarm')).toEqual([]);
});
