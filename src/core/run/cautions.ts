import { dayIn } from '../quantity/day-in-zone';
import { nextItem } from './next-step';
import { setTitle } from './place-words';
import { skippedBefore } from './read-later';
import { slotOf } from '../state/place-keys';
import type { RunState } from '../state/run-state';

/** Conditions read longer ago than this, in minutes, have grown old while readings are taken. */
export const conditionsAge = 60;

/** Standards whose certificate is over on a day, with the day it ran out. @example standardsOver(run, '2026-11-24') // [] */
export function standardsOver(state: RunState, day: string): { identification: string; due: string }[] {
  return Object.values(state.standards)
    .flat()
    .flatMap(({ document: { identification, certificate } }) =>
      certificate?.due && certificate.due < day ? [{ identification, due: certificate.due }] : [],
    );
}

/** Conditions of a set that were read longer ago than they should be at a moment: those that are read once for a set or series. */
export function oldConditions(state: RunState, set: string, at: string): { title: string; minutes: number }[] {
  return state.procedure.conditions.flatMap((c) => {
    if (c.recorded === 'point') return [];
    const last = [...state.conditions].reverse().find((r) => r.id === c.id && r.set === set && r.at <= at);
    const minutes = last ? (Date.parse(at) - Date.parse(last.at)) / 60_000 : 0;
    return minutes > conditionsAge ? [{ title: c.title, minutes: Math.floor(minutes) }] : [];
  });
}

/** What whoever is at the bench must hear now, each in a sentence. @example cautionsNow(run, '2026-11-24T09:00:00Z') // [] */
export function cautionsNow(state: RunState, now: string): string[] {
  const over = standardsOver(state, dayIn(now, state.timeZone)).map(
    ({ identification, due }) =>
      `The certificate of ${identification} ran out on ${due}: readings from then on are not covered by it. Break off and choose another, or write a note why it may still serve.`,
  );
  const item = nextItem(state);
  const old = item?.type === 'reading' ? oldConditions(state, item.set, now) : [];
  const before = item?.type === 'reading' ? skippedBefore(state, slotOf(item)) : null;
  const back = state.returned.at(-1);
  const corrected = state.corrections.at(-1);
  const cause = state.live.size === 0 ? state.procedure.ruleOut.find((r) => r.id === state.looksFor) : undefined;
  return [
    ...(cause ? [`Before it is read: ${cause.title}. ${cause.instruction ?? ''} ${cause.caution ?? ''}`.trim()] : []),
    ...(corrected && !state.completed
      ? [`To be corrected, of certificate ${corrected.certificate} (${corrected.person}): ${corrected.reason}`]
      : []),
    ...(back && !state.completed ? [`Returned in review by ${back.person}: ${back.remark}`] : []),
    ...over,
    ...(before
      ? [
          `${setTitle(before.set)} this point was skipped: ${before.reason}. Skip it here too, or read it if that is no longer so: the certificate will say both.`,
        ]
      : []),
    ...(old.length
      ? [`${old.map((o) => o.title).join(', ')}: read ${Math.max(...old.map((o) => o.minutes))} min ago. Read again (t).`]
      : []),
  ];
}
