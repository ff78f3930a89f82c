import type { StandardContent, StandardDocument } from '../../core/standard/standard-schema';
import { printedUnit } from '../../core/quantity/unit';
import { shownPair, significant } from '../../core/run/shown-value';

type Line = { title: string; value: string; deviation: number; expandedUncertainty: number; coverageFactor: number };

/** Every certified value of one part of a standard, with its deviation: from the nominal value, or the correction itself. */
function linesOf(content: Pick<StandardContent, 'items' | 'corrections' | 'values'>): Line[] {
  const number = (n: number) => String(Number(n.toPrecision(10))).replace('-', '−');
  return [
    ...(content.items ?? []).map((i) => ({
      title: i.marking || number(i.nominal),
      value: i.certified === undefined ? '' : number(i.certified),
      deviation: i.certified === undefined ? 0 : i.certified - i.nominal,
      expandedUncertainty: i.expandedUncertainty,
      coverageFactor: i.coverageFactor,
    })),
    ...(content.corrections ?? []).map((c) => ({
      title: number(c.at),
      value: number(c.at + c.correction),
      deviation: c.correction,
      expandedUncertainty: c.expandedUncertainty,
      coverageFactor: c.coverageFactor,
    })),
    ...(content.values ?? []).map((v) => ({
      title: number(v.at),
      value: number(v.value),
      deviation: 0,
      expandedUncertainty: v.expandedUncertainty,
      coverageFactor: v.coverageFactor,
    })),
  ];
}

/** Certified values as dots with their expanded uncertainty, on one scale; a function with its parameters. */
export function CertifiedValues({ document }: { document: StandardDocument }) {
  const parts: (StandardContent & { title?: string | undefined })[] = document.parts ?? [{ id: '', ...document }];
  return (
    <>
      {parts.map((part) => (
        <Part key={part.id} content={part} title={part.title ?? part.id} unit={part.unit ?? document.unit ?? ''} />
      ))}
    </>
  );
}

function Part({ content, title, unit }: { content: StandardContent; title: string; unit: string }) {
  const lines = linesOf(content);
  const printed = printedUnit(unit);
  const extent = Math.max(1e-12, ...lines.map((l) => Math.abs(l.deviation) + l.expandedUncertainty)) * 1.1;
  const width = 240;
  const at = (value: number) => width / 2 + (value / extent) * (width / 2);
  return (
    <div className="mt-2 border-y border-rule bg-sheet px-4 py-2">
      {title && <h3 className="font-bold">{title}</h3>}
      {content.function && (
        <p>
          <span className="ident">{content.function.name}</span>:{' '}
          {Object.entries(content.function.parameters)
            .map(([name, value]) => `${name} = ${value}`)
            .join(', ')}
          ; U = {content.function.expandedUncertainty} {printed} (k = {content.function.coverageFactor})
        </p>
      )}
      {lines.length === 0 && !content.function && <p className="text-soft">No certified values.</p>}
      <div className="columns-1 gap-8 xl:columns-2">
        {lines.map((l, i) => (
          <div
            key={i}
            className="grid break-inside-avoid grid-cols-[4.6rem_7.2rem_1fr_4.6rem_6.6rem] items-center gap-2 text-sm max-sm:grid-cols-[3.4rem_6rem_1fr_5.6rem] max-sm:gap-1"
            title={`U ${significant(l.expandedUncertainty, 2)} ${printed} (k = ${l.coverageFactor})`}
          >
            <span className="figure truncate text-right font-bold">{l.title}</span>
            <span className="figure text-right text-soft">{l.value}</span>
            <svg viewBox={`0 0 ${width} 22`} className="h-[22px] w-full max-sm:hidden" preserveAspectRatio="none" aria-hidden>
              <line x1={width / 2} x2={width / 2} y1={0} y2={22} stroke="var(--color-rule-strong)" />
              <line
                x1={at(l.deviation - l.expandedUncertainty)}
                x2={at(l.deviation + l.expandedUncertainty)}
                y1={11}
                y2={11}
                stroke="var(--color-ink)"
                strokeWidth={1.4}
              />
              <circle cx={at(l.deviation)} cy={11} r={3.2} fill="var(--color-ink)" />
            </svg>
            <span className="figure text-right">{shownPair(l.deviation, l.expandedUncertainty, unit, unit).value}</span>
            <span className="figure text-right text-soft">
              {significant(l.expandedUncertainty, 2)}, k = {l.coverageFactor}
            </span>
          </div>
        ))}
      </div>
      {lines.length > 0 && (
        <p className="pt-2 text-sm text-soft">
          {content.items
            ? 'Nominal and certified value'
            : content.corrections
              ? 'What it shows, and that with its correction'
              : 'Where, and the value'}
          {printed && `, ${printed}`}; deviation, expanded uncertainty U and its k.
        </p>
      )}
    </div>
  );
}
