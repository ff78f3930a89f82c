import { DocumentError } from '../faults';
import { problemWithCall } from '../evaluate/functions';
import { isPointName } from '../evaluate/names/at';
import { eachColumns } from '../evaluate/names/each';
import type { View } from '../evaluate/names/head';
import { offersReading } from '../evaluate/names/local';
import { problemWith } from '../evaluate/names/registry';
import { stepNamed } from '../evaluate/names/step';
import { mostPoints } from '../evaluate/setting';
import { disciplineAnalyses } from '../disciplines/registry';
import { callsIn, formula, ModelSyntaxError, modelWith, type Formula } from '../formula/formula';
import { isSameKind } from '../quantity/unit';
import { modelFunctions } from '../uncertainty/model-syntax';
import type {
  AggregateDocument,
  ProcedureDocument,
  ResultDocument,
  SeriesDocument,
  ToleranceTemplate,
  When,
} from '../procedure/document-schema';

/**
 * Checks what a schema cannot: that every name is offered where it stands, every function is known and takes what it is given, and
 * every reference has its target. A fault is found when a document is read, not when it is used.
 */

type Path = (string | number)[];

export class DocumentCheck {
  constructor(private readonly doc: ProcedureDocument) {}

  private fault(message: string, path: Path): never {
    throw new DocumentError(message, path);
  }

  /** @throws DocumentError with path and place of the first fault */
  run(): void {
    const { doc } = this;
    this.unique(
      doc.series.map((s) => s.id),
      'series',
      ['series'],
      'id',
    );
    this.unique(
      doc.standards.map((r) => r.role),
      'role',
      ['standards'],
      'role',
    );
    this.unique(
      doc.choices.map((c) => c.id),
      'choice',
      ['choices'],
      'id',
    );
    this.unique(
      doc.tables.map((t) => t.id),
      'table',
      ['tables'],
      'id',
    );
    doc.choices.forEach((c, i) => {
      if (c.default !== undefined && !c.options.some((o) => o.id === c.default))
        this.fault(`"${c.default}" is not one of the options.`, ['choices', i, 'default']);
      this.when(c.when, { series: null }, ['choices', i, 'when']);
      c.options.forEach((o, k) => this.nums(o, { series: null }, ['choices', i, 'options', k]));
    });
    doc.tables.forEach((t, i) => {
      const width = (t.columns?.length ?? 1) + 1;
      t.rows.forEach((row, r) => {
        if (row.length !== width)
          this.fault(`This row has ${row.length} numbers; the table has ${width}.`, ['tables', i, 'rows', r]);
      });
      const named = t.column;
      if (typeof named === 'object' && !doc.choices.some((c) => c.id === named.choice))
        this.fault(`"${named.choice}" is not a choice.`, ['tables', i, 'column', 'choice']);
    });
    doc.standards.forEach((r, i) => this.when(r.when, { series: null }, ['standards', i, 'when']));
    this.steps(doc.steps, { series: null }, ['steps']);
    this.untouched(doc.steps, ['steps']);
    doc.conditions.forEach((c, i) => {
      const path = ['conditions', i];
      this.when(c.when, { series: null }, [...path, 'when']);
      this.nums({ lower: c.lower, upper: c.upper }, { series: null }, path);
      if (c.near) this.text(c.near.is, { series: null }, [...path, 'near', 'is']);
    });
    doc.series.forEach((s, i) => this.series(s, ['series', i]));
    doc.adjustments.forEach((a, i) => this.adjustment(a, ['adjustments', i]));
    doc.ruleOut.forEach((r, i) => {
      this.when(r.when, { series: null }, ['ruleOut', i, 'when']);
      this.steps(r.steps ?? [], { series: null }, ['ruleOut', i, 'steps']);
    });
  }

  private unique(ids: readonly string[], what: string, path: Path, member: string): void {
    ids.forEach((id, i) => {
      if (ids.indexOf(id) !== i) this.fault(`The ${what} "${id}" stands twice.`, [...path, i, member]);
    });
  }

  private role(id: string | undefined, path: Path): void {
    if (id !== undefined && !this.doc.standards.some((r) => r.role === id))
      this.fault(`"${id}" is not a role of this procedure.`, path);
  }

  private seriesNamed(id: string, path: Path): SeriesDocument {
    return this.doc.series.find((s) => s.id === id) ?? this.fault(`"${id}" is not a series of this procedure.`, path);
  }

  // --- formulas ---

  private read(text: string, path: Path): Formula {
    try {
      return formula(text);
    } catch (error) {
      if (error instanceof ModelSyntaxError) this.fault(`${error.message} (character ${error.start + 1} of "${text}")`, path);
      throw error;
    }
  }

  private text(text: string, view: View, path: Path): void {
    const read = this.read(text, path);
    read.symbols.forEach((name, i) => {
      const problem = problemWith(this.doc, name, view);
      if (problem) this.fault(`${problem} (character ${(read.symbolStarts[i] ?? 0) + 1} of "${text}")`, path);
    });
    this.functions(read, view, path);
  }

  private functions(read: Formula, view: View, path: Path): void {
    for (const { name, start, args } of callsIn(read.tree)) {
      const problem = problemWithCall(this.doc, view, name, args);
      if (problem) this.fault(`${problem} (character ${start + 1} of "${read.text}")`, path);
    }
  }

  /** Every `{ "is" }` among some members; plain numbers pass. */
  private nums(members: unknown, view: View, path: Path): void {
    if (typeof members !== 'object' || members === null) return;
    if (typeof (members as { is?: unknown }).is === 'string' && Object.keys(members).every((k) => k === 'is' || k === 'unit'))
      return this.text((members as { is: string }).is, view, [...path, 'is']);
    for (const [key, value] of Object.entries(members))
      if (typeof value === 'object' && value !== null)
        this.nums(value, view, [...path, Array.isArray(members) ? Number(key) : key]);
  }

  private when(when: When | undefined, view: View, path: Path): void {
    if (when === undefined) return;
    if (Array.isArray(when)) return when.forEach((w, i) => this.when(w, view, [...path, i]));
    if ('positive' in when) return this.text(when.positive, view, [...path, 'positive']);
    const among = Array.isArray(when.is) ? when.is : [when.is];
    if ('choice' in when) {
      const choice =
        this.doc.choices.find((c) => c.id === when.choice) ??
        this.fault(`"${when.choice}" is not a choice.`, [...path, 'choice']);
      for (const id of among)
        if (!choice.options.some((o) => o.id === id)) this.fault(`"${id}" is not an option of ${choice.id}.`, [...path, 'is']);
      return;
    }
    if (!stepNamed(this.doc, when.step)) this.fault(`"${when.step}" is not a step of this procedure.`, [...path, 'step']);
  }

  // --- parts of the document ---

  /** What changes the instrument stands before no reading as found, unless its owner does it before every use. */
  private untouched(steps: ProcedureDocument['steps'], path: Path): void {
    steps.forEach((step, i) => {
      const isBefore = step.after === undefined && (step.sets ?? ['as-found']).includes('as-found');
      if (step.touches && isBefore && !step.asInUse)
        this.fault(
          `“${step.title}” touches the instrument before it is read as found. Put it into an adjustment or another set, or say with "asInUse" that its owner does it before every use.`,
          [...path, i, 'touches'],
        );
    });
  }

  private steps(steps: ProcedureDocument['steps'], view: View, path: Path): void {
    steps.forEach((step, i) => {
      const at = [...path, i];
      this.when(step.when, view, [...at, 'when']);
      for (const id of step.sweeps ?? [])
        if (!view.series?.sweeps?.some((w) => w.id === id))
          this.fault(`"${id}" is not a sweep of this series.`, [...at, 'sweeps']);
      const seeing = { ...view, readings: view.series !== null };
      switch (step.kind) {
        case 'measure':
          this.nums({ lower: step.lower, upper: step.upper }, seeing, at);
          if (step.near) this.text(step.near.is, seeing, [...at, 'near', 'is']);
          break;
        case 'check':
          this.text(step.is, seeing, [...at, 'is']);
          this.nums({ lower: step.lower, upper: step.upper }, seeing, at);
          break;
        case 'do':
          step.show?.forEach((s, k) => this.text(s.is, seeing, [...at, 'show', k, 'is']));
          break;
        case 'wait':
          if (step.since !== undefined && !stepNamed(this.doc, step.since))
            this.fault(`"${step.since}" is not a step.`, [...at, 'since']);
          this.nums({ minutes: step.minutes }, seeing, at);
          if (step.until && 'near' in step.until) {
            this.text(step.until.near, seeing, [...at, 'until', 'near']);
            if (step.until.of === undefined) this.watched(view, [...at, 'until']);
          }
          break;
        case 'connect':
          this.role(step.from, [...at, 'from']);
          break;
        case 'choose':
          if (step.want !== undefined && !step.options.some((o) => o.id === step.want))
            this.fault(`"${step.want}" is not one of the options.`, [...at, 'want']);
          break;
        case 'identify': {
          const what = step.what;
          const known =
            what === 'instrument' ||
            this.doc.standards.some((r) => r.role === what) ||
            this.doc.instrument.parts.some((p) => p.id === what) ||
            (view.series !== null && what.startsWith('each.') && eachColumns(this.doc, view.series).has(what.slice(5))) ||
            (view.series !== null && Object.hasOwn(view.series.uses, what));
          if (!known)
            this.fault(`"${what}" is neither the instrument, a role, a part nor a column of what the series runs through.`, [
              ...at,
              'what',
            ]);
        }
      }
    });
  }

  private series(series: SeriesDocument, path: Path): void {
    const view: View = { series };
    const reading: View = { series, readings: true };
    this.unique(
      [
        ...series.observe.map((o) => o.id),
        ...series.computed.map((c) => c.id),
        ...series.results.map((r) => r.symbol),
        ...series.aggregates.map((a) => a.id),
      ],
      'id',
      path,
      'id',
    );
    this.when(series.when, { series: null }, [...path, 'when']);
    for (const [name, use] of Object.entries(series.uses)) {
      const at = [...path, 'uses', name];
      this.role(use.role ?? name, use.role === undefined ? at : [...at, 'role']);
      for (const member of ['item', 'stack', 'at'] as const)
        if (use[member] !== undefined) this.text(use[member], reading, [...at, member]);
      for (const [column, text] of Object.entries(use.where ?? {})) this.text(text, reading, [...at, 'where', column]);
    }
    const each = series.forEach;
    if (each && 'list' in each && !this.doc.instrument.lists.some((l) => l.id === each.list))
      this.fault(`"${each.list}" is not a list of the instrument.`, [...path, 'forEach', 'list']);
    if (each && 'items' in each) this.role(series.uses[each.items]?.role ?? each.items, [...path, 'forEach', 'items']);
    if (each && 'of' in each)
      each.of.forEach((row, i) => {
        const { when, ...columns } = row;
        this.when(when, { series: null }, [...path, 'forEach', 'of', i, 'when']);
        this.nums(columns, view, [...path, 'forEach', 'of', i]);
      });
    if (series.with !== undefined) this.seriesNamed(series.with, [...path, 'with']);
    for (const [i, id] of (series.conditions ?? []).entries())
      if (!this.doc.conditions.some((c) => c.id === id))
        this.fault(`"${id}" is not a condition of this procedure.`, [...path, 'conditions', i]);
    this.steps(series.steps, view, [...path, 'steps']);
    if (series.sets.includes('as-found')) this.untouched(series.steps, [...path, 'steps']);
    this.points(series, view, [...path, 'points']);
    series.sweeps?.forEach((w, i) => this.when(w.when, view, [...path, 'sweeps', i, 'when']));
    this.nums({ repeats: series.repeats }, view, path);
    series.observe.forEach((o, i) => this.observation(series, o, [...path, 'observe', i]));
    series.analyses.forEach((a, i) => {
      const at = [...path, 'analyses', i];
      const known =
        disciplineAnalyses.get(a.use) ??
        this.fault(`"${a.use}" is not an analysis: there are ${[...disciplineAnalyses.keys()].join(', ')}.`, [...at, 'use']);
      const file = series.observe.find((o) => o.id === a.of);
      if (file?.type !== 'file') this.fault(`"${a.of}" is not an observation of the type file.`, [...at, 'of']);
      for (const { id } of known.needs)
        if (a.with?.[id] === undefined) this.fault(`The analysis ${a.use} needs ${id}.`, [...at, 'with']);
      for (const id of Object.keys(a.with ?? {}))
        if (!known.needs.some((n) => n.id === id)) this.fault(`The analysis ${a.use} takes no ${id}.`, [...at, 'with', id]);
      this.nums(a.with ?? {}, view, [...at, 'with']);
      this.when(a.when, view, [...at, 'when']);
    });
    series.computed.forEach((c, i) => {
      const at = [...path, 'computed', i];
      this.when(c.when, view, [...at, 'when']);
      this.text(c.is, { ...reading, computedBefore: i }, [...at, 'is']);
    });
    series.results.forEach((r, i) => this.result(series, r, [...path, 'results', i]));
    series.aggregates.forEach((a, i) => this.aggregate(series, a, [...path, 'aggregates', i]));
    series.fits.forEach((f, i) => {
      const at = [...path, 'fits', i];
      this.text(f.x, reading, [...at, 'x']);
      this.text(f.y, reading, [...at, 'y']);
      f.basis.forEach((b, k) => {
        const strange = this.read(b, [...at, 'basis', k]).symbols.find((s) => s !== 'x');
        if (strange !== undefined) this.fault(`A basis is a function of x alone, not of "${strange}".`, [...at, 'basis', k]);
      });
      this.among(series, f.among, at);
    });
  }

  /** What a wait watches where it does not say: the one observation of its series. */
  private watched({ series }: View, path: Path): void {
    const numbers = series?.observe.filter((o) => o.type === 'number') ?? [];
    if (numbers.length !== 1)
      this.fault(
        series
          ? `Say in "of" what is watched: ${numbers.map((o) => o.id).join(', ') || 'nothing is observed here'}.`
          : 'Say in "of" what is watched: a step outside a series observes nothing.',
        path,
      );
  }

  private points(series: SeriesDocument, view: View, path: Path): void {
    const points = series.points;
    if (!points) return;
    this.pointMembers(series, points, view, path);
    for (const [unit, own] of Object.entries(points.inUnit ?? {})) {
      const at = [...path, 'inUnit', unit];
      const document = this.doc.instrument.unit;
      if (document === undefined)
        this.fault('Points in a unit of their own need the unit of the document: name it at instrument.unit.', at);
      if (!isSameKind(unit, document)) this.fault(`"${unit}" does not measure what ${document} does.`, at);
      this.pointMembers(series, own, view, at);
    }
  }

  private pointMembers(series: SeriesDocument, points: NonNullable<SeriesDocument['points']>, view: View, path: Path): void {
    if (typeof points.list === 'string' && !this.doc.instrument.lists.some((l) => l.id === points.list))
      this.fault(`"${points.list}" is not a list of the instrument.`, [...path, 'list']);
    const { from, to, step } = points;
    if (typeof from === 'number' && typeof to === 'number' && typeof step === 'number' && !points.fractions) {
      const count = Math.floor(Math.abs(to - from) / step + 1e-9) + 1;
      if (!(count <= mostPoints)) this.fault(`These are ${count} points; a series has at most ${mostPoints}.`, [...path, 'step']);
    }
    for (const member of ['items', 'nearest'] as const) {
      const use = points[member];
      if (use !== undefined) this.role(series.uses[use]?.role ?? use, [...path, member]);
    }
    this.nums(
      {
        list: points.list,
        fractions: points.fractions,
        offsets: points.offsets,
        from: points.from,
        to: points.to,
        step: points.step,
      },
      view,
      path,
    );
    points.table?.forEach((row, i) => {
      const { when, ...columns } = row;
      this.when(when, view, [...path, 'table', i, 'when']);
      this.nums(columns, view, [...path, 'table', i]);
    });
  }

  private observation(series: SeriesDocument, o: SeriesDocument['observe'][number], path: Path): void {
    const known =
      o.of === 'instrument' ||
      Object.hasOwn(series.uses, o.of) ||
      this.doc.standards.some((r) => r.role === o.of) ||
      this.doc.instrument.parts.some((p) => p.id === o.of);
    if (!known) this.fault(`"${o.of}" is neither the instrument, a role, a use nor a part.`, [...path, 'of']);
    if (o.type === 'choice' && !o.options?.length) this.fault('A choice needs its options.', [...path, 'options']);
    this.when(o.when, { series }, [...path, 'when']);
    this.nums(
      { resolution: o.resolution, lower: o.lower, upper: o.upper, saturates: o.saturates },
      { series, readings: true },
      path,
    );
  }

  private budget(
    series: SeriesDocument,
    doc: Pick<ResultDocument, 'model' | 'where' | 'quantities' | 'correlations'>,
    view: View,
    path: Path,
    more: readonly string[] = [],
  ): void {
    const symbols = [...doc.quantities.map((q) => q.symbol), ...more];
    this.unique(
      doc.quantities.map((q) => q.symbol),
      'symbol',
      [...path, 'quantities'],
      'symbol',
    );
    doc.quantities.forEach((q, i) => {
      const at = [...path, 'quantities', i];
      if (q.symbol === 'pi' || Object.hasOwn(modelFunctions, q.symbol))
        this.fault(`"${q.symbol}" is a word of the model language: choose another symbol.`, [...at, 'symbol']);
      this.when(q.when, { series }, [...at, 'when']);
      const d = q.distribution;
      if (d.type === 'readings') this.readings(series, d, [...at, 'distribution']);
      this.nums(d, view, [...at, 'distribution']);
    });
    const known = [...symbols];
    doc.where?.forEach((w, i) => {
      const at = [...path, 'where', i, 'is'];
      const read = this.read(w.is, at);
      for (const name of read.symbols)
        if (!known.includes(name)) this.fault(`"${name}" is neither a quantity nor an earlier abbreviation.`, at);
      this.functions(read, view, at);
      known.push(w.symbol);
    });
    const at = [...path, 'model'];
    let model: Formula;
    try {
      model = modelWith(doc.model, doc.where ?? []);
    } catch (error) {
      if (error instanceof ModelSyntaxError) return this.fault(`${error.message} (character ${error.start + 1})`, at);
      throw error;
    }
    for (const name of model.symbols)
      if (!symbols.includes(name)) this.fault(`The model uses "${name}", which is neither a quantity nor an abbreviation.`, at);
    this.functions(model, view, at);
    doc.correlations?.forEach((c, i) => {
      c.between.forEach((name, side) => {
        if (!symbols.includes(name)) this.fault(`"${name}" is not a quantity.`, [...path, 'correlations', i, 'between', side]);
      });
      this.nums({ coefficient: c.coefficient }, view, [...path, 'correlations', i]);
    });
  }

  private readings(
    series: SeriesDocument,
    d: Extract<ResultDocument['quantities'][number]['distribution'], { type: 'readings' }>,
    path: Path,
  ): void {
    const isRead = (of: SeriesDocument, name: string) =>
      of.observe.some((o) => o.id === name) ||
      of.computed.some((c) => c.id === name) ||
      of.analyses.some((a) => name.startsWith(`${a.as}.`));
    if (!isRead(series, d.of))
      this.fault(`"${d.of}" is neither an observation nor a computed value of ${series.id}.`, [...path, 'of']);
    if (typeof d.pool === 'object' && 'series' in d.pool) {
      const other = this.seriesNamed(d.pool.series, [...path, 'pool', 'series']);
      if (!isRead(other, d.pool.of))
        this.fault(`"${d.pool.of}" is neither an observation nor a computed value of ${other.id}.`, [...path, 'pool', 'of']);
    }
  }

  private tolerance(tolerance: ToleranceTemplate | undefined, view: View, path: Path): void {
    if (tolerance) this.nums(tolerance, view, path);
  }

  private judged(doc: ResultDocument | AggregateDocument, view: View, path: Path): void {
    this.tolerance(doc.tolerance, view, [...path, 'tolerance']);
    doc.tolerances?.forEach((t, i) => this.tolerance(t.tolerance, view, [...path, 'tolerances', i, 'tolerance']));
    this.when(doc.when, { series: view.series }, [...path, 'when']);
  }

  private result(series: SeriesDocument, doc: ResultDocument, path: Path): void {
    const view: View = { series, readings: true };
    this.nums({ reference: doc.reference, indication: doc.indication }, view, path);
    this.budget(series, doc, view, path);
    this.judged(doc, { ...view, own: [doc.symbol] }, path);
    const single = series.repeats === 1 && !(doc.over?.length && (series.sweeps?.length ?? 0) > 1);
    doc.quantities.forEach((q, i) => {
      const d = q.distribution;
      if (single && d.type === 'readings' && (d.pool ?? 'none') === 'none')
        this.fault(
          'One reading alone has no scatter: ask for repeats, or pool with other readings or with earlier work ("pool").',
          [...path, 'quantities', i, 'distribution'],
        );
    });
  }

  private among(series: SeriesDocument, among: readonly string[] | undefined, path: Path): void {
    for (const [i, name] of (among ?? []).entries()) {
      const each = series.forEach;
      const isInstance = each !== undefined && (!('of' in each) || each.of.some((row) => row.id === name));
      if (!isPointName(series, name) && !series.sweeps?.some((w) => w.id === name) && !isInstance)
        this.fault(`"${name}" is neither a point nor a sweep nor an instance of ${series.id}.`, [...path, 'among', i]);
    }
  }

  private aggregate(series: SeriesDocument, doc: AggregateDocument, path: Path): void {
    const view: View = { series, readings: true };
    if (doc.of !== undefined && !offersReading(series, doc.of.split('.')))
      this.fault(`"${doc.of}" is neither an observation, a computed value, a result nor another aggregate of ${series.id}.`, [
        ...path,
        'of',
      ]);
    if (doc.is !== undefined) this.text(doc.is, view, [...path, 'is']);
    if (doc.x !== undefined) this.text(doc.x, view, [...path, 'x']);
    if (doc.fit !== undefined && !series.fits.some((f) => f.id === doc.fit))
      this.fault(`"${doc.fit}" is not a fit of ${series.id}.`, [...path, 'fit']);
    if (doc.from !== undefined && !isPointName(series, doc.from))
      this.fault(`"${doc.from}" is not a point of ${series.id}.`, [...path, 'from']);
    this.nums({ within: doc.within }, view, path);
    this.among(series, doc.among, path);
    const own = { ...view, own: [doc.id] };
    if (doc.result) {
      this.budget(series, doc.result, own, [...path, 'result'], [doc.id]);
      this.nums({ reference: doc.result.reference, indication: doc.result.indication }, own, [...path, 'result']);
    }
    this.judged(doc, own, path);
  }

  private adjustment(doc: ProcedureDocument['adjustments'][number], path: Path): void {
    const series = doc.of.map((id, i) => this.seriesNamed(id, [...path, 'of', i]));
    doc.affects?.forEach((id, i) => this.seriesNamed(id, [...path, 'affects', i]));
    const first = series[0]!;
    if (
      doc.result !== undefined &&
      !series.some((s) => s.results.some((r) => r.symbol === doc.result) || s.aggregates.some((a) => a.id === doc.result))
    )
      this.fault(`"${doc.result}" is neither a result nor an aggregate of ${doc.of.join(', ')}.`, [...path, 'result']);
    const view: View = { series: first, readings: true };
    for (const [member, names] of [
      [['takes'], doc.takes],
      [['rounds', 'points'], doc.rounds?.points],
    ] as const)
      names?.forEach((name, i) => {
        if (!isPointName(first, name)) this.fault(`"${name}" is not a point of ${first.id}.`, [...path, ...member, i]);
      });
    if (doc.rounds) this.nums({ within: doc.rounds.within }, view, [...path, 'rounds']);
    doc.stored.forEach((s, i) =>
      this.nums({ proposed: s.proposed, step: s.step, lower: s.lower, upper: s.upper }, view, [...path, 'stored', i]),
    );
    this.nums({ about: doc.about }, view, path);
    if (doc.policy?.kind === 'beyond') this.text(doc.policy.is, view, [...path, 'policy', 'is']);
    this.steps(doc.steps ?? [], { series: null }, [...path, 'steps']);
    this.steps(doc.afterSteps ?? [], { series: null }, [...path, 'afterSteps']);
    this.when(doc.when, { series: null }, [...path, 'when']);
  }
}
