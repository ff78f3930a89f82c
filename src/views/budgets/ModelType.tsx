import 'katex/dist/katex.min.css';
import katex from 'katex';
import { useMemo } from 'react';
import { ModelSyntaxError, parseModel } from '../../core/uncertainty/model-syntax';
import { modelTex, symbolTex } from '../../core/uncertainty/model-tex';

/** The model in mathematical type, or the place of its fault. KaTeX escapes what it sets, and trusts nothing in it. */
export function ModelType({
  symbol,
  model,
  functions = false,
  terms,
}: {
  symbol: string;
  model: string;
  /** Whether functions beyond the model language may stand in it, as in a procedure. */ functions?: boolean;
  /** Symbols that can be pointed at: each is set with the class `term-` and its place in this list. */ terms?: readonly string[];
}) {
  const set = useMemo(() => {
    try {
      const set = (name: string) => {
        const at = terms?.indexOf(name) ?? -1;
        return at < 0 ? symbolTex(name) : `\\htmlClass{term term-${at}}{${symbolTex(name)}}`;
      };
      const tex = `${symbolTex(symbol || 'Y')} = ${modelTex(parseModel(model, { functions }), set)}`;
      // Of what could reach beyond type only our own classes are trusted.
      const trust = (c: { command: string; class?: string }) =>
        c.command === '\\htmlClass' && /^term term-\d+$/.test(c.class ?? '');
      return {
        html: katex.renderToString(tex, { displayMode: true, throwOnError: false, strict: false, trust, output: 'html' }),
        fault: null,
      };
    } catch (error) {
      if (error instanceof ModelSyntaxError) return { html: '', fault: error };
      throw error;
    }
  }, [symbol, model, functions, terms]);
  if (set.fault) {
    const { start, end, message } = set.fault;
    const from = Math.max(0, start - 40);
    return (
      <div className="fault" role="alert">
        <p>{message}</p>
        <p className="mt-1 overflow-x-auto font-mono whitespace-pre">
          {from > 0 && '…'}
          {model.slice(from, start)}
          <mark className="bg-brick text-white">{model.slice(start, end) || '␣'}</mark>
          {model.slice(end, end + 30)}
        </p>
      </div>
    );
  }
  return (
    <div
      className="overflow-x-auto text-lg [&_.katex-display]:!my-1 [&_.katex-display]:!text-left [&_.katex-display>.katex]:!text-left"
      aria-label={`${symbol} = ${model}`}
      role="img"
      dangerouslySetInnerHTML={{ __html: set.html }}
    />
  );
}
