import { lastWord, nobody, type Head } from './head';
import { localValue, offersReading } from './local';
import { inThisSetOrLatest, seriesNamed } from './other-series';

/** An observation, computed value, number of an analysis, result or aggregate of another series. */
export const series: Head = {
  problem: (doc, rest, _view, name) => {
    const other = doc.series.find((s) => s.id === rest[0]);
    return other && offersReading(other, rest.slice(1)) ? null : nobody(name);
  },
  value: (s, [id, symbol, member], scope) =>
    inThisSetOrLatest(s, seriesNamed(s, id!, scope), scope, (at) =>
      localValue(s, [symbol, member].filter(Boolean).join('.'), symbol!, member ? [member] : [], at),
    ),
  words: lastWord,
  isGrowing: true,
};
