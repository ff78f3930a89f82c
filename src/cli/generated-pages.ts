import { readdirSync, readFileSync } from 'node:fs';
import { endpointsPage } from '../contract/endpoints-page';
import { functionsPage } from '../core/disciplines/functions-page';
import { familyPage, type Held } from '../core/document/family-page';
import { readDocument } from '../core/document/read-document';

/** Pages of docs/ that are written from the code and the procedures, by their paths in docs/. */
export function generatedPages(): Record<string, string> {
  const documents = readdirSync('procedures').map((file) => readDocument(JSON.parse(readFileSync(`procedures/${file}`, 'utf8'))));
  // What the bench measured last, kept beside the families of the works (`npm run bench` prints it anew).
  const held = JSON.parse(readFileSync('demo/held.json', 'utf8')) as Record<string, Held>;
  const families = documents.map((d): [string, string] => [`families/${d.id}.md`, familyPage(d, held[d.id])]);
  const list = documents.map((d) => `- [${d.title}](${d.id}.md): ${d.scope ?? ''}`).sort();
  return {
    'endpoints.md': endpointsPage(),
    'functions.md': functionsPage(),
    'families/README.md': `# The families that ship\n\nEach is a document in \`procedures/\` and nothing else; its page is generated from it.\n\n${list.join('\n')}\n`,
    ...Object.fromEntries(families),
  };
}
