import { mkdirSync, writeFileSync } from 'node:fs';
import { jsonSchemas } from './json-schemas';

/** Writes the JSON Schema of every document into docs/schemas/. */
mkdirSync('docs/schemas', { recursive: true });
for (const [file, schema] of Object.entries(jsonSchemas())) writeFileSync(`docs/schemas/${file}`, schema);
