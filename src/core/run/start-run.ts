import { settingOf } from '../evaluate/setting-of';
import { Absent, DocumentError } from '../faults';
import { isIn, noScope, pointsOf } from '../evaluate/setting';
import { slotsOf } from '../evaluate/slots';
import { firstPlan, quickPlan } from '../plan/bench-plan';
import { hasQuickSet, quickRoles } from '../plan/quick-set';
import type { SeriesDocument } from '../procedure/document-schema';
import { thereAndBack } from '../plan/there-and-back';
import { coverageGaps, tooUncertain } from './coverage-gaps';
import { missingEntries, missingProperties } from './missing-properties';
import { bareCase } from '../state/run-case';
import type { RunBeginning } from '../state/run-state';

type Start = Omit<RunBeginning, 'plan'>;
type RunStart = RunBeginning & { type: 'run-started'; version: 2 };

/** Lists of the instrument that a series is read over: its points, or its ranges. */
const listsOf = ({ points, forEach }: SeriesDocument): string[] =>
  [points, forEach].flatMap((from) => (from && 'list' in from && typeof from.list === 'string' ? [from.list] : []));

/**
 * The first act of a run, with its plan resolved.
 * @param purpose a calibration, or a quick check between two of them
 * @param day the laboratory's day on which it begins
 * @throws DocumentError saying which role is not filled, or why instrument or standards cannot serve
 * @example startAct({ ...run, timeZone: 'UTC' }, '2026-11-24').type // 'run-started'
 */
export function startAct(start: Start, day: string, purpose: 'calibration' | 'quick' = 'calibration'): RunStart {
  const { procedure } = start;
  const most = procedure.setUp?.most ?? 1;
  if (start.setUp && start.setUp.of > most)
    throw new DocumentError(
      most === 1
        ? `${procedure.title} is for one instrument at a time. Put them on the bench one by one.`
        : `${procedure.title} takes at most ${most} instruments in one set-up.`,
      ['setUp'],
    );
  const isQuick = purpose === 'quick';
  if (isQuick && !hasQuickSet(procedure))
    throw new DocumentError(`${procedure.title} names nothing for a quick check.`, ['procedure']);
  const cause = procedure.ruleOut.find((r) => r.id === start.looksFor);
  if (start.looksFor && !(isQuick && cause))
    throw new DocumentError('Only a quick check looks for one of the causes that its procedure names.', ['looksFor']);
  const asked = isQuick ? quickRoles(procedure) : null;
  const given = bareCase(start, isQuick ? 'quick' : 'as-found', day);
  const s = settingOf(procedure, given, { planning: true });
  const filling = new Map<string, string>();
  for (const role of procedure.standards) {
    if (asked && !asked.has(role.role)) continue;
    const fills = start.standards[role.role] ?? [];
    if (!isIn(s, role.when, noScope('as-found', ['procedure', 'standards']))) continue;
    if (fills.length === 0 && !role.optional)
      throw new DocumentError(`Nothing is chosen for ${role.title}. Choose a standard for it.`, ['standards', role.role]);
    if (fills.length > 1 && !role.several) throw new DocumentError(`${role.title}: choose one.`, ['standards', role.role]);
    for (const { id, document } of fills) {
      const other = filling.get(id);
      if (other !== undefined)
        throw new DocumentError(
          `${document.identification} is chosen for ${other} already. ${role.title}: choose one of its own.`,
          ['standards', role.role],
        );
      filling.set(id, role.title);
      if (role.kinds && !role.kinds.includes(document.kind))
        throw new DocumentError(`${document.identification} is not what ${role.title} asks for.`, ['standards', role.role]);
      if (!role.auxiliary && !document.certificate)
        throw new DocumentError(`${document.identification} has no certificate. Enter it, or choose another.`, [
          'standards',
          role.role,
        ]);
    }
  }
  const [missing] = isQuick ? [] : missingProperties(procedure, s, start.standards);
  if (missing) {
    const role = procedure.standards.find((r) => r.role === missing.role)!;
    const title = role.properties.find((p) => p.id === missing.property)!.title;
    const named = start.standards[missing.role]!.map((x) => x.document.identification).join(', ');
    const series = procedure.series.find((x) => x.id === missing.series)!.title;
    throw new DocumentError(
      `${named} does not state “${title}”, which “${series}” asks for. Enter it with the certificate, or choose another standard.`,
      ['standards', missing.role],
    );
  }
  const [unstated] = isQuick ? [] : missingEntries(procedure, s);
  if (unstated)
    throw new DocumentError(
      `The register does not state “${unstated.title}”${unstated.list === null ? '' : ` for every row of “${unstated.list}”`}, which “${unstated.series}” asks for. Enter it there first.`,
      ['instrument', unstated.list === null ? 'characteristics' : 'lists'],
    );
  // What stands open only until something is measured may do so; what instrument or standards lack is said now.
  const strict = settingOf(procedure, given);
  for (const series of strict.series.values())
    try {
      if (isQuick && !series.doc.sets.includes('quick')) continue;
      for (const instance of series.instances) pointsOf(strict, series, instance);
      slotsOf(strict, series);
    } catch (error) {
      if (!(error instanceof Absent)) throw error;
    }
  const [gap, ...gaps] = coverageGaps(strict, isQuick ? ['quick'] : undefined);
  if (gap) {
    const points = [...new Set([gap, ...gaps].filter((g) => g.role === gap.role).map((g) => g.point))];
    const where = points.length > 4 ? `${points.slice(0, 4).join(', ')} and ${points.length - 4} more points` : points.join(', ');
    throw new DocumentError(
      `${gap.why} Not covered: ${where}. Choose a standard that reaches, add one beside it, or narrow the range to be calibrated.`,
      ['standards', gap.role],
    );
  }
  const plan = isQuick ? quickPlan(procedure, given, cause) : firstPlan(procedure, given);
  if (!plan.items.some((i) => i.type === 'reading' || i.type === 'open')) {
    const empty = procedure.instrument.lists.find(
      (l) => !start.instrument.lists[l.id]?.length && procedure.series.some((x) => listsOf(x).includes(l.id)),
    );
    if (empty)
      throw new DocumentError(`The register lists nothing under “${empty.title}”. Enter there what is to be read.`, [
        'instrument',
        'lists',
      ]);
    throw new DocumentError('The range to be calibrated holds none of the points of the procedure.', ['instrument', 'usedUpper']);
  }
  return { type: 'run-started', version: 2, ...start, plan: start.setUp ? thereAndBack(plan, procedure) : plan };
}

/**
 * What a standard of a role is too uncertain for, before anything is read; null where its U is within the limits that it is to serve.
 * @param start what startAct takes, and would begin with
 * @example startCaution({ ...run, timeZone: 'UTC' }, 'blocks', '2026-11-24') // null
 */
export function startCaution(start: Start, role: string, day: string): string | null {
  const found = tooUncertain(settingOf(start.procedure, bareCase(start, 'as-found', day))).filter((t) => t.role === role);
  const [first, ...more] = [...new Map(found.map((t) => [t.words, t])).values()];
  if (!first) return null;
  const others = more.length ? `, and so at ${more.length} more ${more.length === 1 ? 'point' : 'points'}` : '';
  return `${first.words.charAt(0).toUpperCase()}${first.words.slice(1)}${others}: the verdict there will say little.`;
}
