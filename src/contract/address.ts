import type { EndpointName } from './endpoints';

/** How an endpoint is called, and where it is. @example partsOf('GET /api/budgets/[id]', 'a b') // { method: 'GET', address: '/api/budgets/a%20b' } */
export function partsOf<N extends EndpointName>(
  name: N,
  id = '',
): { method: N extends `${infer M} ${string}` ? M : never; address: string } {
  const [method, address] = name.split(' ') as [never, string];
  return { method, address: address.replace('[id]', encodeURIComponent(id)) };
}
