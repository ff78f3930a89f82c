import published from './published-values.json';
import { disciplineAnalyses, disciplineFunctions } from './registry';

const cell = (text: string) => text.replaceAll('|', '\\|');

/**
 * `docs/functions.md`: every function and analysis with units, validity and source, from the registry alone.
 * @example functionsPage().startsWith('# Functions') // true
 */
export function functionsPage(): string {
  const byDiscipline = new Map<string, string[]>();
  for (const f of disciplineFunctions.values()) {
    const call = `\`${f.name}(${f.parameters.map((p) => p.id).join(', ')})\``;
    const parameters = f.parameters.map((p) => `${p.id}: ${p.title}${p.unit === '1' ? '' : `, ${p.unit}`}`).join('; ');
    const lines = published.lines.filter((l) => l.function === f.name).length;
    const row = `| ${call} | ${cell(f.title)} | ${f.unit} | ${cell(parameters)} | ${cell(f.validity)} | ${cell(f.source)} | ${lines} |`;
    byDiscipline.set(f.discipline, [...(byDiscipline.get(f.discipline) ?? []), row]);
  }
  const functions = [...byDiscipline].map(([discipline, rows]) =>
    [
      `### ${discipline[0]!.toUpperCase()}${discipline.slice(1)}`,
      '',
      '| call | gives | unit | parameters | holds for | source | published values it is held against |',
      '| --- | --- | --- | --- | --- | --- | --- |',
      ...rows,
    ].join('\n'),
  );
  const analyses = [...disciplineAnalyses.values()].map((a) =>
    [
      `### \`${a.name}\``,
      '',
      `${a.title}. ${a.validity[0]!.toUpperCase()}${a.validity.slice(1)}. Source: ${a.source}.`,
      '',
      `- file: ${a.input}`,
      ...a.needs.map((n) => `- needs \`${n.id}\`: ${n.title}, ${n.unit}`),
      ...a.gives.map((g) => `- gives \`${g.id}\`: ${g.title}${g.unit === '1' ? '' : `, ${g.unit}`}`),
    ].join('\n'),
  );
  return [
    '# Functions and analyses',
    '',
    'Generated from `src/core/disciplines` by `npm run schemas`; a test fails when it is stale. A function is callable in every formula and budget of a',
    'procedure, and its exact partial derivatives carry uncertainty through it (an inverse by implicit differentiation). Units are UCUM codes. Outside its',
    'validity a function refuses in words. Left out, because its constants could not be had for certain: the humidity over sodium bromide.',
    '',
    '## Functions',
    '',
    functions.join('\n\n'),
    '',
    '## Analyses',
    '',
    'An analysis works on the files of all repeats at a point; its numbers are named `<as>.<number>`.',
    '',
    analyses.join('\n\n'),
    '',
  ].join('\n');
}
