import { useState } from 'react';
import { targetCost } from '../../core/interval/family';
import type { FamilyMember, FamilyPage } from '../../core/interval/family-page';
import { leastOutside, priorShapeDeviation, priorTime } from '../../core/interval/few-data';
import { monthsInWords, percent } from '../../core/interval/proposal';
import { leastSeen, survivalTitles } from '../../core/interval/reliability-school';
import { survivalModels } from '../../core/interval/survival';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { guarded } from '../../ui/guarded';
import { SurvivalChart } from '../charts';

const chance = (p: number): string => (p < 0.0001 ? 'less than 1 in 10 000' : `1 in ${Math.round(1 / p)}`);

const columns: DataColumn<FamilyMember>[] = [
  {
    id: 'identification',
    title: 'Instrument',
    sortBy: (m) => m.identification,
    cell: (m) => (
      <>
        <a href={`/instruments/${m.id}`} className="ident font-bold">
          {m.identification}
        </a>
        <span className="block text-sm text-soft">{m.designation}</span>
      </>
    ),
  },
  { id: 'owner', title: 'Owner', isWideOnly: true, sortBy: (m) => m.owner, cell: (m) => m.owner },
  { id: 'seen', title: 'Seen again', align: 'right', className: 'figure', sortBy: (m) => m.seen, cell: (m) => m.seen },
  { id: 'outside', title: 'Outside', align: 'right', className: 'figure', sortBy: (m) => m.outside, cell: (m) => m.outside },
  {
    id: 'outlier',
    title: 'Against the others',
    sortBy: (m) => (m.outlier ? m.outlier.probability : null),
    cell: ({ outlier: o }) =>
      o && (
        <span className={o.kind === 'bad' ? 'text-brick' : ''}>
          <span className="font-bold">{o.kind === 'bad' ? 'Worse' : 'Better'}</span>: outside {o.outside} times of {o.seen}, where{' '}
          {o.expected.toFixed(1)} are to be expected; by chance {chance(o.probability)}
        </span>
      ),
  },
  {
    id: 'due',
    title: 'Due',
    className: 'figure',
    sortBy: (m) => m.nextDue,
    cell: (m) => (m.isInUse ? (m.nextDue ?? '–') : 'out of use'),
  },
];

/** The model in words: which, how sure, and whether it fits. */
function modelWords({ way, seen, outside, curve, evidence, goodness, months }: FamilyPage): string[] {
  const seenWords = `Seen again ${seen} times, ${outside} of them outside.`;
  const interval = `At ${percent(curve.target)}: ${monthsInWords(months.middle)}, 95 % between ${monthsInWords(months.low)} and ${monthsInWords(months.high)}.`;
  if (way === 'few')
    return [
      seenWords,
      `Fewer than ${leastOutside} outside are too few for the data alone. Assumed beforehand: a Weibull curve, its time at the target anything from ${priorTime[0]} to ${priorTime[1]} months alike on a logarithmic scale, its shape around 1 (standard deviation of its logarithm ${priorShapeDeviation}).`,
      seen < leastSeen ? `With fewer than ${leastSeen} seen again nothing is proposed by it.` : interval,
    ];
  return [
    seenWords,
    `An instrument of this family ${survivalTitles[curve.model]}. Evidence: ${survivalModels.map((m) => `${m.replace('-', ' ')} ${percent(evidence![m])}`).join(', ')}.`,
    interval,
    goodness
      ? `Against what was seen, χ² is ${goodness.statistic.toFixed(1)} with ${goodness.dof} ${goodness.dof === 1 ? 'degree' : 'degrees'} of freedom: ${goodness.probability < 0.05 ? 'the curve does not fit well' : 'nothing against the curve'} (probability ${goodness.probability < 0.001 ? 'below 0.001' : goodness.probability.toFixed(2)}).`
      : 'Too few groups to tell whether the curve fits.',
  ];
}

/** A family: how its share inside falls with time, what a target would cost, who is unlike the others. */
export const FamilyView = guarded(function FamilyView({ family }: { family: FamilyPage }) {
  const { policy, curve } = family;
  const [target, setTarget] = useState(policy.target);
  const { inUse } = family.count;
  const cost = targetCost(curve, inUse, target, policy.price, policy);
  const now = targetCost(curve, inUse, policy.target, policy.price, policy);
  const figure = (n: number) => (n >= 100 ? n.toFixed(0) : n.toFixed(1));
  const lines: [string, string, string][] = [
    ['Interval', monthsInWords(cost.months), monthsInWords(now.months)],
    ['Calibrations in a year', figure(cost.calibrations), figure(now.calibrations)],
    ['Results outside in a year', figure(cost.outside), figure(now.outside)],
    ...(cost.cost === null ? [] : [['Cost in a year', cost.cost.toFixed(0), now.cost!.toFixed(0)] as [string, string, string]]),
  ];
  return (
    <>
      <div className="mt-4 grid gap-8 lg:grid-cols-[1fr_21rem]">
        <figure className="self-start border-y border-rule bg-sheet px-2 pt-3">
          <SurvivalChart curve={curve} band={family.band} steps={family.steps} target={target} onTarget={setTarget} />
          <figcaption className="px-2 pb-2 text-sm text-soft">
            Green: the share still inside, with its 95 % band. Steps: what was seen. Ochre: the target; drag it, or use the arrow
            keys.
          </figcaption>
        </figure>
        <section aria-label="What if">
          <h2>If the target were {percent(target, 1)}</h2>
          <table className="mt-2 w-full border-y border-rule bg-sheet">
            <thead>
              <tr className="border-b border-rule">
                <th className="px-4 py-2">For {inUse} in use</th>
                <th className="px-2 py-2 !text-right">then</th>
                <th className="px-4 py-2 !text-right">at {percent(policy.target, 1)}</th>
              </tr>
            </thead>
            <tbody>
              {lines.map(([title, then, at]) => (
                <tr key={title} className="border-b border-rule last:border-0">
                  <td className="px-4 py-2">{title}</td>
                  <td className="figure px-2 py-2 text-right text-lg font-bold">{then}</td>
                  <td className="figure px-4 py-2 text-right text-soft">{at}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2 text-sm text-soft">
            Held between {monthsInWords(policy.floor)} and {monthsInWords(policy.ceiling)} by the policy.
            {policy.price === null && ' Name a price for a calibration in the policy to see what it costs.'}{' '}
            <a href={`/laboratory?scope=family&subject=${encodeURIComponent(family.kind)}#policy`}>Its policy</a>
          </p>
          <h2 className="mt-6">In words</h2>
          {modelWords(family).map((line) => (
            <p key={line} className="mt-2">
              {line}
            </p>
          ))}
        </section>
      </div>
      <section className="mt-8">
        <h2>The family</h2>
        <div className="mt-2">
          <DataTable label="The family" columns={columns} rows={family.members} idOf={(m) => m.id} />
        </div>
        {family.count.all > family.members.length && (
          <p className="mt-2 text-sm text-soft">
            The {family.members.length} most unlike the others, of {family.count.all}.
          </p>
        )}
      </section>
    </>
  );
});
