import { mkdirSync, writeFileSync } from 'node:fs';
import { generatedPages } from './generated-pages';
import { jsonSchemas } from './json-schemas';

/** Writes the JSON Schema of every document into docs/schemas/, and the pages that come from code and procedures. */
for (const folder of ['schemas', 'families']) mkdirSync(`docs/${folder}`, { recursive: true });
for (const [file, schema] of Object.entries(jsonSchemas())) writeFileSync(`docs/schemas/${file}`, schema);
for (const [file, page] of Object.entries(generatedPages())) writeFileSync(`docs/${file}`, page);
