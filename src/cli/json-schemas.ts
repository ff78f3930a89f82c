import * as z from 'zod';
import { verbs } from '../core/door/verbs';
import { documentSchema } from '../core/procedure/document-schema';
import { standardSchema } from '../core/standard/standard-schema';
import { recordSchema } from '../core/seal/record';
import { manifestSchema } from '../service/export-service';
import { procedureSchema } from '../core/log/version-1/procedure-schema';

/** The JSON Schema of every document that goes in by the door or from a file, by file name; generated, never written by hand. */
export function jsonSchemas(): Record<string, string> {
  const documents = {
    ...Object.fromEntries(Object.entries(verbs).map(([name, verb]) => [name, verb.schema])),
    procedure: documentSchema,
    'procedure-version-1': procedureSchema,
    standard: standardSchema,
    record: recordSchema,
    laboratory: manifestSchema,
  };
  return Object.fromEntries(
    Object.entries(documents).map(([name, schema]) => [
      `${name}.schema.json`,
      `${JSON.stringify(z.toJSONSchema(schema, { io: 'input' }), null, 2)}\n`,
    ]),
  );
}
