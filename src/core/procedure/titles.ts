/** Members that are lists of things with a title; a thing without one is called by its id. */
const titled = new Set([
  'characteristics',
  'lists',
  'columns',
  'parts',
  'standards',
  'properties',
  'choices',
  'options',
  'steps',
  'afterSteps',
  'conditions',
  'series',
  'sweeps',
  'results',
  'aggregates',
  'tolerances',
  'adjustments',
  'stored',
  'ruleOut',
]);

/** What a step of a kind says to the person; where it says nothing, its title does. */
const spoken: Record<string, string> = {
  confirm: 'ask',
  identify: 'ask',
  choose: 'ask',
  measure: 'ask',
  wait: 'instruction',
  do: 'instruction',
  settings: 'ask',
};

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value);

/** A document with every title that it leaves out put in its place; worked examples stay as they are. */
export function withTitles(raw: unknown, within = ''): unknown {
  if (Array.isArray(raw)) return raw.map((item) => withTitles(titled.has(within) ? named(item, within) : item));
  if (!isObject(raw)) return raw;
  return Object.fromEntries(Object.entries(raw).map(([key, value]) => [key, key === 'example' ? value : withTitles(value, key)]));
}

function named(item: unknown, within: string): unknown {
  if (!isObject(item)) return item;
  const id = item['id'] ?? item['role'] ?? item['symbol'];
  if (typeof id !== 'string') return item;
  const title = item['title'] ?? id;
  const says = within === 'steps' || within === 'afterSteps' ? spoken[String(item['kind'])] : undefined;
  return { ...item, title, ...(says === undefined ? {} : { [says]: item[says] ?? title }) };
}
