import { DocumentError } from '../faults';

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value);

/**
 * Puts what `like` copies in its place, before a document is checked: a series like an earlier series, a result like a result of an
 * earlier series. Members given override one by one; an empty list empties.
 * @throws DocumentError when there is no earlier one of that name
 * @example withoutLikes({ series: [{ id: 'a', n: 1 }, { id: 'b', like: 'a' }] }).series[1] // { id: 'b', n: 1 }
 */
export function withoutLikes(document: unknown): unknown {
  if (!isObject(document) || !Array.isArray(document['series'])) return document;
  const done: Json[] = [];
  document['series'].forEach((raw: unknown, i) => {
    if (!isObject(raw)) return done.push(raw as Json);
    const path = ['series', i];
    const { like, ...own } = raw;
    let series: Json = own;
    if (like !== undefined) {
      const earlier = done.find((d) => isObject(d) && d['id'] === like);
      if (!earlier) throw new DocumentError(`There is no earlier series "${String(like)}" to be like.`, [...path, 'like']);
      series = { ...earlier, ...own };
    }
    if (Array.isArray(series['results']))
      series = {
        ...series,
        results: series['results'].map((r: unknown, k) => likeResult(r, done, series, [...path, 'results', k])),
      };
    return done.push(series);
  });
  return { ...document, series: done };
}

function likeResult(raw: unknown, earlier: readonly Json[], present: Json, path: (string | number)[]): unknown {
  if (!isObject(raw) || raw['like'] === undefined) return raw;
  const { like, ...own } = raw;
  const [seriesId, symbol] = String(like).split('.');
  const series = [...earlier, present].find((d) => isObject(d) && d['id'] === seriesId);
  const results = series?.['results'];
  const found = Array.isArray(results)
    ? results.find((r: unknown) => isObject(r) && r['symbol'] === symbol && r !== raw)
    : undefined;
  if (!isObject(found)) throw new DocumentError(`There is no earlier result "${String(like)}" to be like.`, [...path, 'like']);
  const { like: _like, ...copied } = found;
  return { ...copied, ...own };
}
