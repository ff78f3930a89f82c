import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import { LongWork } from './LongWork';

const nothing = () => {};
const shown = (more: Partial<Parameters<typeof LongWork>[0]>) =>
  renderToStaticMarkup(
    <LongWork progress={null} fault="" begin={nothing} stop={nothing} title="Check the record" of="rows" {...more} />,
  );

describe('long work', () => {
  it('is begun by its button', () => {
    expect(shown({ isMain: true })).toMatch(/button-main.*Check the record/);
    expect(shown({})).not.toMatch(/Stop|status|alert/);
  });
  it('can be stopped while it goes on, and says how far it is once that is known', () => {
    expect(shown({ progress: { done: 0, of: 0 } })).toContain('Stop');
    expect(shown({ progress: { done: 0, of: 0 } })).not.toContain('status');
    expect(shown({ progress: { done: 30, of: 900 }, isMain: true })).toMatch(/Stop.*30 of 900 rows/);
    expect(shown({ progress: { done: 30, of: 900 } })).not.toContain('Check the record');
  });
  it('says what was refused', () => expect(shown({ fault: 'No head.' })).toMatch(/role="alert"[^>]*>No head\./));
});
