import * as z from 'zod';
import { evaluateText, sourcesOf } from '../evaluate/setting';
import { id } from '../plan/atoms';
import { place } from '../plan/plan-schema';
import { plainDecimal } from '../quantity/rounding';
import { refuse } from '../state/refusal';
import { settingIn } from '../run/run-results';
import { scopeAt } from '../state/run-scope';
import { isClosed } from '../state/progress';
import { placeOf, usedItemsKey } from '../state/place-keys';
import { offeredItems } from '../standard/assigned-value';
import { actKind } from './act-kind';
import { evidence, where } from './common';
import { forAllAtTheirPlace } from './spreading';

/** Items in place of those that the plan resolved: they must serve the point, and nothing may have been read on the others. */
export const itemsChosen = actKind(
  'items-chosen',
  { ...place, series: id, point: id, use: id, items: z.array(z.string().max(80)).min(1).max(12) },
  {
    admit: (state, act) => {
      const use = state.procedure.series.find((s) => s.id === act.series)?.uses[act.use];
      if (!use || (use.stack === undefined && use.item === undefined)) return refuse('Nothing is chosen here.', 'use');
      if (isClosed(state, act.set)) return evidence(act.set, 'set');
      const isRead = [...state.live.values()].some(
        (r) => r.slot.set === act.set && r.slot.series === act.series && r.slot.each === act.each && r.slot.point === act.point,
      );
      if (isRead) return refuse('Readings have been taken on these. Strike them out first, with the reason.', 'items');
      if (new Set(act.items).size !== act.items.length) return refuse('One thing can be taken only once.', 'items');
      const s = settingIn(state, act.set);
      const scope = scopeAt(s, placeOf(act));
      if (!scope.series || !scope.point) return refuse('The procedure has no such point.', 'point');
      const offered = offeredItems(sourcesOf(s, scope.series, act.use), {});
      const chosen = act.items.map((item) => offered.find((o) => o.item.id === item));
      if (chosen.some((o) => !o)) return refuse('One of these is not in the standard of this run.', 'items');
      if (use.stack === undefined) return act.items.length === 1 ? null : refuse('Choose one.', 'items');
      const wanted = evaluateText(s, use.stack, scope);
      const total = Number(chosen.reduce((sum, o) => sum + o!.item.nominal, 0).toPrecision(12));
      return Math.abs(total - wanted) <= 1e-9 * Math.max(1, Math.abs(wanted))
        ? null
        : refuse(`These add to ${plainDecimal(total)}; the point is ${plainDecimal(wanted)}.`, 'items');
    },
    fold: (state, act) => {
      state.items.set(usedItemsKey(act, act.use), act.items);
    },
    words: (act, state) => `${where(state, act)}: ${act.items.join(' + ')} chosen`,
    spread: forAllAtTheirPlace,
  },
);
