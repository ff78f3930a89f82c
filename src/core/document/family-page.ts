import { printedUnit } from '../quantity/unit';
import { isObservationShared, isShared } from '../plan/shared';
import type {
  AdjustmentDocument,
  ProcedureDocument,
  SeriesDocument,
  StepDocument,
  ToleranceTemplate,
} from '../procedure/document-schema';
import { distributionWords, hoursWords, numberWords, pointsWords, policyWords, toleranceWords, unitWords } from './plan-words';

const cell = (text: string): string => text.replaceAll('|', '\\|').replaceAll('\n', ' ');
const row = (cells: readonly string[]): string => `| ${cells.map(cell).join(' | ')} |`;
const table = (heads: readonly string[], rows: readonly (readonly string[])[]): string[] =>
  rows.length === 0 ? [] : [row(heads), row(heads.map(() => '---')), ...rows.map(row), ''];
const section = (title: string, lines: readonly string[]): string[] => (lines.length === 0 ? [] : [`## ${title}`, '', ...lines]);
const asText = (lines: readonly string[]): string =>
  lines
    .join('\n')
    .replaceAll(/\n{3,}/g, '\n\n')
    .trimEnd() + '\n';

/** What a step asks, in a line. */
function stepWords(step: StepDocument): string {
  switch (step.kind) {
    case 'confirm':
    case 'identify':
    case 'choose':
      return step.ask;
    case 'measure': {
      const limits = toleranceWords({ lower: step.lower, upper: step.upper }, printedUnit(unitWords(step.unit)));
      return `${step.ask} (${unitWords(step.unit)}${limits === 'none' ? '' : `, ${limits}`})`;
    }
    case 'check':
      return `\`${step.is}\`, ${toleranceWords({ lower: step.lower, upper: step.upper }, unitWords(step.unit))}; outside: a reason`;
    case 'wait':
      return `${step.instruction} ${typeof step.minutes === 'number' ? hoursWords(step.minutes) : `\`${step.minutes.is}\` minutes`}.`;
    case 'do':
      return [step.instruction, ...(step.show ?? []).map((s) => `${s.title}: \`${s.is}\` ${unitWords(s.unit)}.`)].join(' ');
    case 'settings':
      return [
        step.ask ?? 'What it holds:',
        ...step.settings.map(
          (s) =>
            `${s.title}${s.want === undefined ? '' : ` ${typeof s.want === 'object' ? `\`${s.want.is}\`` : s.want}`} ${unitWords(s.unit)};`,
        ),
      ].join(' ');
    case 'connect':
      return `From ${step.from} to ${step.to}.`;
  }
}

const stepRows = (steps: readonly StepDocument[]): string[] =>
  table(
    ['step', 'what is done', 'caution'],
    steps.map((s) => [s.title, stepWords(s), s.caution ?? '']),
  );

type Judged = {
  tolerance?: ToleranceTemplate | undefined;
  tolerances?: { title: string; tolerance: ToleranceTemplate }[] | undefined;
};

/** The limits of a result or statistic: its own, or each school's. */
function limitLines({ tolerance, tolerances }: Judged, unit: string): string[] {
  if (tolerances) return tolerances.map((s) => `- ${s.title}: ${toleranceWords(s.tolerance, unit)}`);
  return tolerance ? [`- ${toleranceWords(tolerance, unit)}`] : ['- none: it informs'];
}

function seriesLines(series: SeriesDocument): string[] {
  const sets = series.sets.length === 2 && series.sets[0] === 'as-found' ? '' : ` Read in: ${series.sets.join(', ')}.`;
  const gate = series.gate ? ' A gate: failing stops the plan there.' : '';
  const results = series.results.flatMap((r) => {
    const unit = unitWords(r.unit);
    return [
      `#### ${r.title} (${r.symbol}${unit ? `, ${unit}` : ''})`,
      '',
      `\`${r.symbol} = ${r.model}\``,
      '',
      ...table(
        ['quantity', 'what it is', 'unit', 'distribution', 'where it comes from'],
        r.quantities.map((q) => [q.symbol, q.name ?? '', printedUnit(q.unit), distributionWords(q.distribution), q.source ?? '']),
      ),
      'Limits:',
      '',
      ...limitLines(r, unit),
      '',
    ];
  });
  const statistics = series.aggregates.map((a) => [
    a.title,
    a.statistic ? `${a.statistic} of ${a.of ?? `the residuals of ${a.fit}`} over ${a.over.join(', ')}` : `\`${a.is}\``,
    limitLines(a, unitWords(a.unit))
      .map((l) => l.slice(2))
      .join('; '),
  ]);
  const fits = series.fits.map((f) => [
    f.title ?? f.id,
    `\`${f.y}\` against \`${f.x}\``,
    f.basis.map((b) => `\`${b}\``).join(', '),
  ]);
  return [
    `### ${series.title}`,
    '',
    `${pointsWords(series)}.${sets}${gate}`.replace(/^./, (c) => c.toUpperCase()),
    '',
    ...stepRows(series.steps),
    ...table(
      ['read', 'of', 'unit', 'how'],
      series.observe.map((o) => [o.title ?? o.id, o.of, unitWords(o.unit), o.instruction ?? '']),
    ),
    ...results,
    ...table(['statistic', 'of what', 'limits'], statistics),
    ...table(['fit', 'what against what', 'basis'], fits),
  ];
}

const adjustmentLines = (a: AdjustmentDocument): string[] => [
  `- **${a.title}** (${a.kind}, ${policyWords(a.policy)})${a.separately ? ', by itself for each' : ''}: ${a.instruction ?? ''}` +
    a.stored.map((s) => ` ${s.title}: \`${s.proposed === undefined ? 'as found' : numberWords(s.proposed)}\`.`).join('') +
    (a.caution ? ` *${a.caution}*` : ''),
];

/** What is done once and what for each, where several instruments stand in one set-up. */
function setUpLines(document: ProcedureDocument): string[] {
  if (!document.setUp) return [];
  const steps = document.steps
    .filter((s) => !isShared(document, { type: 'step', set: 'as-found', id: s.id }))
    .map((s) => s.title);
  const read = document.series.flatMap((s) => s.observe.filter((o) => isObservationShared(o)).map((o) => o.title ?? o.id));
  return [
    `Up to ${document.setUp.most} instruments in one set-up, each with its own log, results, adjustment and certificate; read in order and back again.`,
    '',
    `Read once for all: ${[...new Set(read)].join(', ') || 'nothing'}. Done for each: ${steps.join(', ')}. Waits, conditions and everything else: once for all.`,
    '',
  ];
}

/** How often intervals held what was hidden at a simulated bench. */
export type Held = { runs: number; results: number; inside: number; left: { results: number; inside: number } };

const claimed = 95.45;
/** Beyond this many per cent above the claim there is a reason to be told. */
const allowed = 2;

function heldWords({ runs, results, inside, left }: Held): string[] {
  const share = (100 * inside) / results;
  const said = `In ${runs} played as-found sets, with standards and influences off by what this budget allows and readings rounded to the display, ${share.toFixed(1)} % of ${results} intervals held the truth; the claim is ${claimed} %.${
    left.results > 0
      ? ` As left after an adjustment: ${((100 * left.inside) / left.results).toFixed(1)} % of ${left.results}.`
      : ''
  }`;
  const why =
    'It is more on purpose: the half widths are bounds and not what is likely, a few bounds rule the budget, and a normal factor over bounds reaches further than they do.';
  return [share > claimed + allowed ? `${said} ${why}` : said];
}

/**
 * `docs/families/<id>.md`: what a procedure does and why, from the document alone.
 * @param document as it was written, checked (`readDocument`)
 * @param held what `npm run bench` measured, where it was
 * @example familyPage(document).includes('micrometer') // true
 */
export function familyPage(document: ProcedureDocument, held?: Held): string {
  const independent = document.standards.filter((r) => r.independent).map((r) => r.title.toLowerCase());
  const checks = document.series.filter((s) => s.sets.includes('check') || s.sets.includes('quick'));
  const examples = document.example === undefined ? [] : [document.example].flat();
  return asText([
    `# ${document.title}`,
    '',
    document.scope ?? '',
    '',
    `Generated from \`procedures/${document.id}.json\`, revision ${document.revision}, by \`npm run schemas\`; a test fails when it is stale. The laboratory's own`,
    'safety rules and licensed practice decide; the cautions here remind.',
    '',
    'Sources:',
    '',
    ...document.sources.map((s) => `- ${s}`),
    '',
    ...section(
      'Standards',
      table(
        ['role', 'kinds', 'needed', 'what it must state'],
        document.standards.map((r) => [
          r.title,
          (r.kinds ?? ['any']).join(', '),
          [
            r.optional ? 'may be left out' : 'yes',
            ...(r.independent ? ['independent'] : []),
            ...(r.auxiliary ? ['no certificate'] : []),
          ].join(', '),
          r.properties.map((p) => p.title).join('; '),
        ]),
      ),
    ),
    ...section(
      'Choices and methods',
      document.choices.flatMap((c) => [`- **${c.title}**: ${c.options.map((o) => String(o['title'])).join(' · ')}`]),
    ),
    '',
    ...section('Several in one set-up', setUpLines(document)),
    ...section('Before the readings', stepRows(document.steps)),
    ...section(
      'Conditions',
      table(
        ['condition', 'limits', 'recorded'],
        document.conditions.map((c) => [
          c.title,
          toleranceWords({ lower: c.lower, upper: c.upper }, unitWords(c.unit)),
          `each ${c.recorded}`,
        ]),
      ),
    ),
    ...section('What is read, and what becomes of it', document.series.flatMap(seriesLines)),
    ...section('Adjusting', document.adjustments.flatMap(adjustmentLines)),
    '',
    ...section(
      'Before adjusting: the cheap causes',
      document.ruleOut.map((r) => `- **${r.title}**: ${r.instruction ?? ''}${r.caution ? ` *${r.caution}*` : ''}`),
    ),
    '',
    ...section('Checks', [
      ...(independent.length ? [`- Independent of the adjustment: ${independent.join(', ')}.`] : []),
      ...checks.map((s) => `- ${s.title}: in ${s.sets.filter((x) => x === 'check' || x === 'quick').join(' and ')}.`),
    ]),
    '',
    ...section('When to come back', [
      ...(document.interval ? [`${document.interval.statement ?? `${document.interval.months} months`}`] : []),
      ...(document.quick
        ? ['', `Quick check every ${document.quick.every} ${document.quick.unit}. ${document.quick.statement ?? ''}`.trim()]
        : []),
    ]),
    '',
    ...section('Held against hidden truth', held ? heldWords(held) : []),
    '',
    ...section(
      'Worked examples',
      examples.map((e) => `- ${e.source}: ${e.expect.length} numbers, recomputed at import, in the tests and on Proof.`),
    ),
  ]);
}
