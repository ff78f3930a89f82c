import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readDocument } from './read-document';
import type { ProcedureDocument } from '../procedure/document-schema';

/** What a procedure asks the register, a certificate or a person for, each with the names under which it would be used. */
function askedFor(d: ProcedureDocument): { what: string; names: string[]; isGate?: boolean }[] {
  const uses = (role: string) => [
    role,
    ...d.series.flatMap((s) => Object.entries(s.uses).flatMap(([use, u]) => ((u.role ?? use) === role ? [use] : []))),
  ];
  const limits = (x: { lower?: unknown; upper?: unknown; near?: unknown }) =>
    x.lower !== undefined || x.upper !== undefined || x.near !== undefined;
  const steps = [...d.steps, ...d.series.flatMap((s) => s.steps)];
  return [
    ...d.instrument.characteristics.map((c) => ({ what: c.id, names: [`instrument.${c.id}`] })),
    ...d.instrument.lists.flatMap((l) =>
      l.columns.flatMap((c) =>
        c.id === 'nominal' ? [] : [{ what: `${l.id}.${c.id}`, names: [`each.${c.id}`, `point.${c.id}`] }],
      ),
    ),
    ...d.standards.flatMap((r) =>
      r.properties.map((p) => ({
        what: `${r.role}.${p.id}`,
        names: [...uses(r.role).map((use) => `${use}.${p.id}`), `each.${p.id}`, `point.${p.id}`],
      })),
    ),
    ...steps.flatMap((s) => (s.kind === 'measure' ? [{ what: s.id, names: [`step.${s.id}`], isGate: limits(s) }] : [])),
    ...d.conditions.map((c) => ({ what: c.id, names: [`condition.${c.id}`], isGate: limits(c) })),
  ];
}

describe('a procedure asks for nothing that no formula, gate or text uses', () => {
  it.each(readdirSync('procedures'))('%s', (file) => {
    const raw = JSON.parse(readFileSync(`procedures/${file}`, 'utf8')) as { example?: unknown };
    const document = readDocument(raw);
    delete raw.example;
    const text = JSON.stringify(raw);
    const isNamed = (name: string) => new RegExp(`(?<![\\w.])${name.replace('.', '\\.')}(?!\\w)`).test(text);
    // A property of an adapter is summed over its chain.
    const isSummed = (name: string) => new RegExp(`step\\.\\w+\\.${name.split('.')[1]}(?!\\w)`).test(text);
    const idle = askedFor(document).filter((x) => !x.isGate && !x.names.some((n) => isNamed(n) || isSummed(n)));
    expect(idle.map((x) => x.what)).toEqual([]);
  });
});
