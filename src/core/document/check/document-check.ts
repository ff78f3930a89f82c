import { DocumentError } from '../../faults';
import { problemWithCall } from '../../evaluate/functions';
import type { View } from '../../evaluate/names/head';
import { problemWith } from '../../evaluate/names/registry';
import { stepNamed } from '../../evaluate/names/step';
import { callsIn, formula, ModelSyntaxError, type Formula } from '../../formula/formula';
import type { ProcedureDocument, SeriesDocument, When } from '../../procedure/document-schema';

export type Path = (string | number)[];

/** What every part of the check asks of a document: that names are offered where they stand, and references have their target. */
export class DocumentCheck {
  constructor(readonly doc: ProcedureDocument) {}

  fault(message: string, path: Path): never {
    throw new DocumentError(message, path);
  }

  unique(ids: readonly string[], what: string, path: Path, member: string): void {
    ids.forEach((id, i) => {
      if (ids.indexOf(id) !== i) this.fault(`The ${what} "${id}" stands twice.`, [...path, i, member]);
    });
  }

  role(id: string | undefined, path: Path): void {
    if (id !== undefined && !this.doc.standards.some((r) => r.role === id))
      this.fault(`"${id}" is not a role of this procedure.`, path);
  }

  seriesNamed(id: string, path: Path): SeriesDocument {
    return this.doc.series.find((s) => s.id === id) ?? this.fault(`"${id}" is not a series of this procedure.`, path);
  }

  // --- formulas ---

  read(text: string, path: Path): Formula {
    try {
      return formula(text);
    } catch (error) {
      if (error instanceof ModelSyntaxError) this.fault(`${error.message} (character ${error.start + 1} of "${text}")`, path);
      throw error;
    }
  }

  text(text: string, view: View, path: Path): void {
    const read = this.read(text, path);
    read.symbols.forEach((name, i) => {
      const problem = problemWith(this.doc, name, view);
      if (problem) this.fault(`${problem} (character ${(read.symbolStarts[i] ?? 0) + 1} of "${text}")`, path);
    });
    this.functions(read, view, path);
  }

  functions(read: Formula, view: View, path: Path): void {
    for (const { name, start, args } of callsIn(read.tree)) {
      const problem = problemWithCall(this.doc, view, name, args);
      if (problem) this.fault(`${problem} (character ${start + 1} of "${read.text}")`, path);
    }
  }

  /** Every `{ "is" }` among some members; plain numbers pass. */
  nums(members: unknown, view: View, path: Path): void {
    if (typeof members !== 'object' || members === null) return;
    if (typeof (members as { is?: unknown }).is === 'string' && Object.keys(members).every((k) => k === 'is' || k === 'unit'))
      return this.text((members as { is: string }).is, view, [...path, 'is']);
    for (const [key, value] of Object.entries(members))
      if (typeof value === 'object' && value !== null)
        this.nums(value, view, [...path, Array.isArray(members) ? Number(key) : key]);
  }

  when(when: When | undefined, view: View, path: Path): void {
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
}
