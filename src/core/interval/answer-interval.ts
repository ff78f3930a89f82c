import { toleranceUsed } from '../conformity/decide';
import { familyOf } from './family';
import type { IntervalQuestion } from './interval-schema';
import { proposeNext, type Proposals } from './propose';
import { checkChart } from './quick-checks';
import type { Visit } from './visit';

type AskedVisit = IntervalQuestion['visits'][number];

/** A visit as it was asked with, in the shape that all methods take. */
function visitOf(asked: AskedVisit, index: number): Visit {
  const used = asked.pairs.flatMap(({ found, isCheck }) => {
    if (!found || isCheck) return [];
    const share = toleranceUsed(found.value, { lower: found.lower, upper: found.upper });
    return share === null ? [] : [share];
  });
  return {
    run: asked.run ?? String(index + 1),
    day: asked.day,
    isInside: asked.isInside,
    isRenewed: asked.isRenewed,
    share: asked.share ?? (used.length ? Math.max(...used) : null),
    certificates: asked.certificates,
    pairs: asked.pairs.map((p) => ({
      key: p.key,
      what: p.what ?? p.key,
      point: p.point ?? '',
      unit: p.unit,
      shownIn: p.shownIn ?? p.unit,
      found: p.found,
      left: p.left,
      ...(p.isCheck ? { isCheck: true } : {}),
    })),
  };
}

const inOrder = (visits: readonly AskedVisit[]): Visit[] => visits.map(visitOf).sort((a, b) => a.day.localeCompare(b.day));

/**
 * The next date by every method, and the one that is proposed, without a register: what the screens show, asked from outside.
 * Kin are the others; the instrument's own visits count among them.
 */
export function answerInterval(question: IntervalQuestion): Proposals {
  const { policy, instrument, procedure, from, today } = question;
  const visits = inOrder(question.visits);
  const members = [visits, ...question.kin.map(inOrder)].map((of, i) => ({ id: String(i), visits: of }));
  const checks = [...question.checks]
    .sort((a, b) => (a.at ?? a.day).localeCompare(b.at ?? b.day))
    .map((c, i) => ({ ...c, run: c.run ?? String(i + 1), at: c.at ?? `${c.day}T12:00:00.000Z` }));
  return proposeNext(
    {
      visits,
      ownMonths: instrument.months,
      procedure,
      policy: { policy, scope: 'instrument' },
      family: familyOf(members, policy.target),
      counts: question.counts,
      chart: checkChart(checks),
    },
    from,
    today,
  );
}
