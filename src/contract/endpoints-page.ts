import * as z from 'zod';
import { roles } from '../core/register/roles';
import { endpoints, rolesOf, type Endpoint, type EndpointName } from './endpoints';

/** Members of a body in short: their names, those that may be left out with a question mark. */
function inShort(schema: z.ZodType | undefined): string {
  if (!schema) return '';
  const { properties, required } = z.toJSONSchema(schema, { unrepresentable: 'any', io: 'input' }) as {
    properties?: Record<string, unknown>;
    required?: string[];
  };
  return properties
    ? Object.keys(properties)
        .map((name) => `\`${name}${required?.includes(name) ? '' : '?'}\``)
        .join(', ')
    : 'a document';
}

/** The table of endpoints, written from the contract. */
export function endpointsPage(): string {
  const lines = (Object.entries(endpoints) as [EndpointName, Endpoint][]).map(([name, endpoint]) => {
    const [method, address] = name.split(' ');
    const sent = inShort(endpoint.request ?? endpoint.query);
    const answer = typeof endpoint.answer === 'string' ? endpoint.answer : inShort(endpoint.answer);
    const codes = [endpoint.status ?? 200, ...endpoint.codes].join(', ');
    const may = rolesOf(name).length === roles.length ? 'all' : rolesOf(name).join(', ');
    return `| ${method} | \`${address}\` | ${endpoint.what} | ${sent} | ${answer}${endpoint.inLines ? ', in lines' : ''} | ${codes} | ${may} |`;
  });
  return `# Endpoints

Written from \`src/contract/endpoints.ts\`, by which requests and answers are checked and the pages are typed. A body is JSON of 1 MB at the
most. A refusal is \`{ "error": { "message", "path" } }\` with what further helps. Beside the codes that are named: 400 and 413 for a
body that is no JSON or too long, 403 for a page of another server, 405, 421, 500, and 503 while another program holds the database.

A program sends \`Authorization: Bearer …\` with a token (\`npm run -s token -- create\`): what it does is recorded as that person's, by
that token, and only what the token's roles allow; 401 where it is not good, 403 where none of its roles may. Without that header nobody
is held to a role yet.

| | address | what it does | sent | answer | codes | roles |
| --- | --- | --- | --- | --- | --- | --- |
${lines.join('\n')}
`;
}
