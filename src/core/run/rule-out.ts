import { causes, type Cause } from '../diagnose/diagnose-schema';
import { isIn, noScope } from '../evaluate/setting';
import type { ProcedureDocument } from '../procedure/document-schema';
import type { RunState } from '../state/run-state';
import { diagnose } from './diagnosis';
import { settingIn } from './run-results';
import { outcomeOf, type RungOutcome } from './rungs';

export type ToRuleOut = {
  doc: ProcedureDocument['ruleOut'][number];
  /** How probable it is that this is the cause; null where the document says nothing of what it explains. */ probability:
    number | null;
  /** Looked for in this run already, so many times, without its being that. */ times: number;
  /** Looked for in these readings, with what the point read afterwards; null where nothing was. */ tried: {
    outcome: RungOutcome | null;
  } | null;
};

/** How often each cause was looked for at one point in other runs of the procedure, and how often it was that. */
export type CauseCounts = Readonly<Record<string, { tried: number; helped: number }>>;

/** What looking elsewhere says: of two lookings one helps, until there is more to go by. */
const usefulness = (counts: CauseCounts[string] | undefined): number =>
  counts ? (2 * (counts.helped + 1)) / (counts.tried + 2) : 1;

/** Minutes that looking for a cause takes, where its document does not say. */
const usualMinutes = 5;
/** What was looked for and is still there is so much less probable than before. */
const afterLooking = 0.1;

/** Of runs that look so, how many had this cause; of an offset with a slope what is said of the two. */
const shareOf = ({ explains = {} }: ToRuleOut['doc'], cause: Cause): number =>
  explains[cause] ?? (cause === 'offset-and-span' ? ((explains.offset ?? 0) + (explains.span ?? 0)) / 2 : 0);

/**
 * Causes to rule out, in the order in which looking for them pays: the probability that it is this one, by what the errors look like,
 * over the minutes that it takes, and how often it was that elsewhere. What was looked for before comes later; without a word on what they explain they stay in the order of
 * the document.
 * @example toRuleOut(run, 'as-found')[0].doc.id // 'unit'
 */
export function toRuleOut(state: RunState, set: string, elsewhere: CauseCounts = {}): ToRuleOut[] {
  const { looks } = diagnose(state, set);
  const all = state.procedure.ruleOut.filter((r) => isIn(settingIn(state, set), r.when, noScope(set)));
  const of = (cause: string) => looks.filter((l) => l.cause === cause).reduce((sum, l) => sum + l.probability, 0);
  const told = all.map((doc): ToRuleOut => {
    const rungs = state.rungs.filter((r) => r.id === doc.id);
    const isInVain = (r: (typeof rungs)[number]) => r.look !== null && outcomeOf(state, r)?.helped !== true;
    const times = state.rulings.filter((r) => r.id === doc.id).length + rungs.filter(isInVain).length;
    const here = rungs.find((r) => r.place.set === set);
    const tried = here ? { outcome: outcomeOf(state, here) } : null;
    const likely = usefulness(elsewhere[doc.id]) * causes.reduce((sum, cause) => sum + of(cause) * shareOf(doc, cause), 0);
    return { doc, times, tried, probability: doc.explains && looks.length ? Math.min(1, likely) * afterLooking ** times : null };
  });
  const pays = ({ probability, doc, times }: ToRuleOut) =>
    (probability ?? usefulness(elsewhere[doc.id]) * afterLooking ** times * 1e-9) / (doc.minutes ?? usualMinutes);
  const order = told.some((t) => t.probability !== null || t.times > 0 || elsewhere[t.doc.id])
    ? told.toSorted((a, b) => pays(b) - pays(a))
    : told;
  // What helped comes first: nothing else is looked for.
  return order.toSorted((a, b) => Number(b.tried?.outcome?.helped ?? false) - Number(a.tried?.outcome?.helped ?? false));
}
