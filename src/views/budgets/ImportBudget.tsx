import { useState, type ChangeEvent } from 'react';
import { Upload } from 'lucide-react';
import type { SentTo } from '../../contract/endpoints';
import { ask } from '../../ui/ask-server';
import { guarded } from '../../ui/guarded';

const largest = 200_000;

/** Takes in a budget document from a file. */
export const ImportBudget = guarded(function ImportBudget() {
  const [fault, setFault] = useState('');

  async function take(event: ChangeEvent<HTMLInputElement>) {
    const file = event.target.files?.[0];
    event.target.value = '';
    if (!file) return;
    if (file.size > largest) return setFault(`${file.name} is larger than ${largest / 1000} kB: that is no budget.`);
    let document: unknown;
    try {
      document = JSON.parse(await file.text());
    } catch {
      return setFault(`${file.name} is not JSON. Choose a budget document.`);
    }
    // What the file holds the server checks.
    const answer = await ask('POST /api/budgets', { body: document as SentTo<'POST /api/budgets'> });
    if (answer.ok) window.location.assign(`/budgets/${answer.body.id}`);
    else
      setFault(
        `${file.name}: ${answer.refusal.message}${answer.refusal.path.length ? ` (at ${answer.refusal.path.join(' · ')})` : ''}`,
      );
  }

  return (
    <div>
      <label className="button cursor-pointer focus-within:outline-3 focus-within:outline-verdigris">
        <Upload size={16} aria-hidden /> Take in a document
        <input type="file" accept=".json,application/json" onChange={take} className="sr-only !min-h-0" />
      </label>
      {fault && (
        <p className="fault mt-2 max-w-md" role="alert">
          {fault}
        </p>
      )}
    </div>
  );
});
