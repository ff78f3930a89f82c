import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import { guarded } from './guarded';

describe('a guarded part', () => {
  it('is itself while it works', () => {
    const Part = guarded(function Part({ text }: { text: string }) {
      return <p>{text}</p>;
    });
    expect(renderToStaticMarkup(<Part text="ten" />)).toBe('<p>ten</p>');
    expect(Part.displayName).toMatch(/^Guarded\(Part/);
  });
});
