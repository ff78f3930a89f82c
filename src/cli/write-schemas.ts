import { mkdirSync, writeFileSync } from 'node:fs';
import { functionsPage } from '../core/disciplines/functions-page';
import { jsonSchemas } from './json-schemas';

/** Writes the JSON Schema of every document into docs/schemas/, and the page of functions. */
mkdirSync('docs/schemas', { recursive: true });
for (const [file, schema] of Object.entries(jsonSchemas())) writeFileSync(`docs/schemas/${file}`, schema);
writeFileSync('docs/functions.md', functionsPage());
