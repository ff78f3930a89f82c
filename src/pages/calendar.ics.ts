import type { APIRoute } from 'astro';
import { dueCalendar } from '../service/due-service';

/** What comes due, as a calendar to subscribe to; of one owner or place where the address names one. An owner's holds his own. */
export const GET: APIRoute = async ({ url, request, locals }) => {
  const part = (name: string) => url.searchParams.get(name)?.slice(0, 120) || undefined;
  const host = `${url.protocol}//${request.headers.get('host') ?? url.host}`;
  const parts = dueCalendar({ owner: locals.who?.owner ?? part('owner'), place: part('place') }, host);
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { value, done } = await parts.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(value));
    },
    cancel: async () => void (await parts.return(undefined)),
  });
  return new Response(stream, {
    headers: { 'content-type': 'text/calendar; charset=utf-8', 'cache-control': 'no-cache' },
  });
};
