import type { APIRoute } from 'astro';
import { dueCalendar } from '../service/due-service';

/** What comes due, as a calendar to subscribe to; of one owner or place where the address names one. */
export const GET: APIRoute = async ({ url, request }) => {
  const part = (name: string) => url.searchParams.get(name)?.slice(0, 120) || undefined;
  return new Response(
    await dueCalendar(
      { owner: part('owner'), place: part('place') },
      `${url.protocol}//${request.headers.get('host') ?? url.host}`,
    ),
    {
      headers: { 'content-type': 'text/calendar; charset=utf-8', 'cache-control': 'no-cache' },
    },
  );
};
