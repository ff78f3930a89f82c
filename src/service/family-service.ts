import { familyBand, familyMonths, goodnessOfFit, middleCurve, outliersOf } from '../core/interval/family';
import { livesOf, observedSteps } from '../core/interval/observed-steps';
import type { FamilyPage } from '../core/interval/family-page';
import { Histories } from './interval-service';
import { ServiceError } from './service-error';

const bandPoints = 48;

/** The kin that instruments of a kind are told apart into, the largest first. */
export async function kinOfKind(kind: string): Promise<{ kin: string; members: number }[]> {
  const histories = await Histories.read(kind);
  return [...new Set(histories.instruments.map(histories.kinOf))]
    .map((kin) => ({ kin, members: histories.membersOf(kin).length }))
    .sort((a, b) => b.members - a.members || a.kin.localeCompare(b.kin));
}

/** Lines of members that are sent. */
const mostMembers = 300;

/** Pages as they were told, as long as nothing of their kind has changed. */
const pages = new WeakMap<Histories, Map<string, FamilyPage>>();

/** Everything that the page of a family says. @throws ServiceError where no instrument is of this kin */
export async function familyPage(kind: string, told: string[]): Promise<FamilyPage> {
  const histories = await Histories.read(kind);
  const kin = JSON.stringify([kind, ...told]);
  const known = pages.get(histories) ?? new Map<string, FamilyPage>();
  pages.set(histories, known);
  const page = known.get(kin) ?? pageOf(histories, kind, told, kin);
  known.set(kin, page);
  return page;
}

function pageOf(histories: Histories, kind: string, told: string[], kin: string): FamilyPage {
  const members = histories.membersOf(kin);
  if (members.length === 0)
    throw new ServiceError(
      404,
      'No instrument is of this family. The policy may tell similar instruments apart otherwise now: open it from an instrument.',
    );
  // The kind's policy stands for the family; members with one of their own keep it.
  const { policy } = histories.policyOf({ ...members[0]!, id: '', owner: '', intervalMonths: null });
  const family = histories.familyOf(kin, policy.target);
  const curve = middleCurve(family);
  const longest = Math.max(12, ...family.cells.map((c) => c.until), Math.min(60, 1.3 * curve.time));
  const outliers = new Map(outliersOf(family).map((o) => [o.id, o]));
  const outcomes = new Map(family.members.map((m) => [m.id, m.outcomes]));
  return {
    kind,
    told,
    policy,
    members: [...members]
      .sort((a, b) => (outliers.get(a.id)?.probability ?? 1) - (outliers.get(b.id)?.probability ?? 1))
      .slice(0, mostMembers)
      .map((i) => ({
        id: i.id,
        identification: i.identification,
        designation: i.designation,
        owner: i.owner,
        isInUse: i.state === 'in-use',
        nextDue: i.nextDue,
        seen: outcomes.get(i.id)?.length ?? 0,
        outside: outcomes.get(i.id)?.filter((o) => !o.isInside).length ?? 0,
        outlier: outliers.get(i.id) ?? null,
      })),
    count: { all: members.length, inUse: members.filter((i) => i.state === 'in-use').length },
    seen: family.seen,
    outside: family.outside,
    way: family.way,
    curve,
    months: familyMonths(family),
    evidence: family.way === 'likelihood' ? family.fit.evidence : null,
    band: familyBand(
      family,
      Array.from({ length: bandPoints + 1 }, (_, i) => (longest * i) / bandPoints),
    ),
    steps: observedSteps(family.members.flatMap((m) => livesOf(m.outcomes))),
    goodness: goodnessOfFit(family),
  };
}
