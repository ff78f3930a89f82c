import type { PolicyRequest, SetPolicyRequest } from '../contract/requests';
import type { PolicyScope, SetPolicy } from '../core/interval/policy';
import { dayIn } from '../core/quantity/day-in-zone';
import type { Proposal } from '../core/interval/proposal';
import type { Moved, PolicyBoard, PolicyPreview, PolicySubject } from '../core/interval/policy-board';
import { database } from '../store/database';
import * as intervals from '../store/intervals';
import * as register from '../store/register';
import { Histories, turns } from './interval-service';
import { laboratoryZone, today } from './laboratory-time';
import { requirePerson } from './require-person';

const replaced = (set: readonly SetPolicy[], { scope, subject, policy }: PolicyRequest): SetPolicy[] => [
  ...set.filter((p) => p.scope !== scope || p.subject !== subject),
  ...(policy ? [{ scope, subject, policy }] : []),
];

/** No more lines are shown, and sent, than these. */
const mostShown = 200;

/** Instruments whose histories are read at once. */
const atOnce = 50;

/** The date that is proposed for each of many instruments; their histories are read some at a time, and let go. */
async function chosenBy(
  histories: Histories,
  instruments: Histories['instruments'],
  day: string,
  turn: () => Promise<void>,
): Promise<Map<string, Proposal>> {
  const chosen = new Map<string, Proposal>();
  for (let i = 0; i < instruments.length; i += atOnce)
    for (const [id, said] of await histories.proposals(instruments.slice(i, i + atOnce), day, undefined, turn))
      chosen.set(id, said.chosen);
  return chosen;
}

/** What a policy would change, before it does: the dates of the instruments that it is for, as they were if it had always held. */
export async function previewPolicy(
  request: PolicyRequest,
  progress: (done: number, of: number) => void = () => {},
  signal?: AbortSignal,
): Promise<PolicyPreview> {
  const [now, day] = await Promise.all([Histories.read(), today()]);
  const then = now.under(replaced(now.policies, request));
  const inUse = then.instruments.filter((i) => i.state === 'in-use');
  const concerned = inUse.filter((i) => JSON.stringify(now.policyOf(i)) !== JSON.stringify(then.policyOf(i)));
  let done = 0;
  const turn = turns(() => progress(done, 2 * concerned.length), signal);
  const counted = () => {
    done++;
    return turn();
  };
  const before = await chosenBy(now, concerned, day, counted);
  const after = await chosenBy(then, concerned, day, counted);
  const year = `${Number(day.slice(0, 4)) + 1}${day.slice(4)}`;
  const count = (of: typeof before) => [...of.values()].filter((p) => p.date! <= year).length;
  const moved = concerned.flatMap((i): Moved[] => {
    const [was, is] = [before.get(i.id)!, after.get(i.id)!];
    if (was.date === is.date) return [];
    const { id, identification, designation } = i;
    return [{ id, identification, designation, now: was.date, then: is.date!, school: is.school, reason: is.reason }];
  });
  moved.sort((a, b) => a.then.localeCompare(b.then));
  return {
    policy: request.policy,
    concerned: concerned.length,
    moved: moved.slice(0, mostShown),
    inAYear: { now: count(before), then: count(after) },
  };
}

/** Sets a policy from now on. Dates that stand are not moved by it; the next run is proposed by it. */
export async function setPolicy(request: SetPolicyRequest, now = new Date().toISOString()): Promise<void> {
  const db = await database();
  await requirePerson(db, request.person);
  const subject = request.scope === 'laboratory' ? '' : request.subject;
  await intervals.appendPolicy(db, { ...request, subject, at: now });
}

/** Everything a policy can be for, and what holds there now. @param asked an instrument that shall be among it though nothing is set for it */
export async function policyBoard(asked?: string): Promise<PolicyBoard> {
  const db = await database();
  const [kinds, owners, policies, history, zone] = await Promise.all([
    register.countInUse(db, 'kind'),
    register.countInUse(db, 'owner'),
    intervals.currentPolicies(db),
    intervals.policyLines(db),
    laboratoryZone(),
  ]);
  const of = (scope: PolicyScope, subject: string) =>
    policies.find((p) => p.scope === scope && p.subject === subject)?.policy ?? null;
  const subjectsOf = (scope: PolicyScope, counted: { subject: string; n: number }[]): PolicySubject[] =>
    counted
      .map(({ subject, n }) => ({ scope, subject, title: subject, policy: of(scope, subject), instruments: n }))
      .sort((a, b) => a.subject.localeCompare(b.subject));
  const own = new Set([
    ...policies.flatMap((p) => (p.scope === 'instrument' ? [p.subject] : [])),
    ...(asked === undefined ? [] : [asked]),
  ]);
  const instruments = await Promise.all([...own].map(async (id) => [id, await register.memberById(db, id)] as const));
  return {
    subjects: [
      {
        scope: 'laboratory',
        subject: '',
        title: 'The laboratory',
        policy: of('laboratory', ''),
        instruments: kinds.reduce((sum, k) => sum + k.n, 0),
      },
      ...subjectsOf('family', kinds),
      ...subjectsOf('owner', owners),
      ...instruments
        .filter(([id, row]) => row !== undefined || id !== asked)
        .map(([id, row]): PolicySubject => ({
          scope: 'instrument',
          subject: id,
          title: row?.identification ?? id,
          policy: of('instrument', id),
          instruments: 1,
        })),
    ],
    history: history.map((l) => ({ ...l, day: dayIn(l.at, zone) })),
  };
}
