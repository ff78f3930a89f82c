import { useMemo, useState } from 'react';
import { CalendarDays } from 'lucide-react';
import type { DueBoard, DueLine } from '../../core/interval/due-board';
import { dueStanding } from '../../core/traceability/standing';
import { ask } from '../../ui/ask-server';
import { Combobox } from '../../ui/Combobox';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { Dialog, DialogClose } from '../../ui/Dialog';
import { DueWords } from '../../ui/DueTrack';
import { guarded } from '../../ui/guarded';
import { MoveDates } from '../../ui/MoveDates';
import { kindTitle } from '../instruments/kind-title';
import { WeekChart } from '../charts';

type Filter = { owner?: string | undefined; place?: string | undefined };

const address = ({ owner, place }: Filter, base: string): string => {
  const query = new URLSearchParams({ ...(owner ? { owner } : {}), ...(place ? { place } : {}) }).toString();
  return query ? `${base}?${query}` : base;
};

/** What comes due over the next year, by week and one by one; brought forward to go together; as a calendar to subscribe to. */
export const DueView = guarded(function DueView({ board, filter }: { board: DueBoard; filter: Filter }) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [isMoving, setMoving] = useState(false);
  const [isCalendar, setCalendar] = useState(false);
  const { week, choose, lines, known, isLoading, fault, further } = useDueLines(board, filter);
  const { overdue } = board;
  // Only what is here whole can be put in another order.
  const isWhole = further === null;
  const columns = useMemo(
    (): DataColumn<DueLine>[] => [
      {
        id: 'choose',
        title: <span className="sr-only">Choose</span>,
        cell: (l) => (
          <input
            type="checkbox"
            className="!size-6"
            aria-label={`Choose ${l.identification}`}
            checked={chosen.has(l.id)}
            onChange={() => setChosen(new Set(chosen.has(l.id) ? [...chosen].filter((id) => id !== l.id) : [...chosen, l.id]))}
          />
        ),
      },
      {
        id: 'identification',
        title: 'Instrument',
        sortBy: (l) => l.identification,
        cell: (l) => (
          <>
            <a href={`/instruments/${l.id}`} className="ident font-bold">
              {l.identification}
            </a>
            <span className="block text-sm text-soft">
              {kindTitle(l.kind)}
              {l.designation && `, ${l.designation}`}
            </span>
          </>
        ),
      },
      { id: 'owner', title: 'Owner', isWideOnly: true, sortBy: (l) => l.owner, cell: (l) => l.owner },
      { id: 'place', title: 'Place', isWideOnly: true, sortBy: (l) => l.place, cell: (l) => l.place || '–' },
      { id: 'due', title: 'Due on', className: 'figure', sortBy: (l) => l.nextDue, cell: (l) => l.nextDue ?? '–' },
      {
        id: 'words',
        title: 'That is',
        cell: (l) =>
          l.nextDue === null ? (
            <span className="text-ochre">never calibrated here</span>
          ) : (
            <DueWords standing={dueStanding(l.nextDue, board.today)} />
          ),
      },
    ],
    [chosen, board.today],
  );
  const choice = (name: 'owner' | 'place', title: string, values: readonly string[]) => (
    <div className="w-56">
      <Combobox
        label={title}
        value={filter[name] ?? ''}
        options={[{ value: '', title: 'all' }, ...values.map((v) => ({ value: v, title: v }))]}
        onChoose={(v) => window.location.assign(address({ ...filter, [name]: v || undefined }, '/due'))}
      />
    </div>
  );
  return (
    <>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="mr-auto">
          <h1>Due in the next year</h1>
          <p className="text-soft">
            <span className="figure">{board.listed}</span> instruments
            {overdue > 0 && (
              <>
                , <span className="font-bold text-brick">{overdue} overdue</span>
              </>
            )}
            {board.later > 0 && `; ${board.later} later than that`}
          </p>
        </div>
        {choice('owner', 'Owner', board.owners)}
        {choice('place', 'Place', board.places)}
        <button type="button" className="button" onClick={() => setCalendar(true)}>
          <CalendarDays size={18} aria-hidden /> As a calendar
        </button>
      </div>
      <figure className="mt-4 border-y border-rule bg-sheet px-2 pt-2">
        <div role="group" aria-label="How many come due each week">
          <WeekChart weeks={board.weeks} overdue={overdue} week={week} onWeek={choose} />
        </div>
        <figcaption className="px-2 pb-2 text-sm text-soft">
          A bar a week from {board.today} on; press one to see which they are.
        </figcaption>
      </figure>
      <div className="mt-4 flex min-h-12 flex-wrap items-center gap-4">
        <h2 className="mr-auto">{week === null ? 'All of them' : `Week of ${week}`}</h2>
        {week !== null && (
          <button type="button" className="button button-quiet" onClick={() => choose(null)}>
            Show all weeks
          </button>
        )}
        <button type="button" className="button" disabled={chosen.size === 0} onClick={() => setMoving(true)}>
          {chosen.size === 0 ? 'Choose some to move them together' : `Move ${chosen.size} to one day`}
        </button>
      </div>
      <div className="mt-2">
        <DataTable
          label="Due"
          columns={isWhole ? columns : columns.map(({ sortBy: _sortBy, ...column }) => column)}
          rows={lines}
          idOf={(l) => l.id}
        />
      </div>
      {fault && (
        <p className="fault mt-3" role="alert">
          {fault}
        </p>
      )}
      {further && (
        <p className="mt-3 flex items-center gap-4">
          <button type="button" className="button" onClick={further} disabled={isLoading}>
            Show more
          </button>
          <span className="text-soft">
            The first {lines.length}
            {week === null && ` of ${board.listed}`}, in the order of their dates.
          </span>
        </p>
      )}
      {lines.length === 0 && !isLoading && <p className="border-y border-rule bg-sheet px-4 py-4">Nothing is due then.</p>}
      {isMoving && (
        <MoveTogether lines={known.filter((l) => chosen.has(l.id))} today={board.today} onClose={() => setMoving(false)} />
      )}
      <Dialog isOpen={isCalendar} onClose={() => setCalendar(false)} title="A calendar to subscribe to">
        <p className="mt-3">
          A calendar is given an address
          {filter.owner || filter.place
            ? `: it holds what is of ${[filter.owner, filter.place].filter(Boolean).join(', ')}`
            : ': it holds everything that comes due'}
          . It is asked anew each hour, and follows every date that is moved.
        </p>
        <CalendarAddress path={address(filter, '/calendar.ics')} />
        <p className="mt-4">
          <DialogClose>Close</DialogClose>
        </p>
      </Dialog>
    </>
  );
});

/** Lines that come at once from the server. */
const linesAtOnce = 300;

/** The ISO day of the Monday of a week. */
function mondayOf(day: string): string {
  const date = new Date(`${day}T00:00:00Z`);
  date.setUTCDate(date.getUTCDate() - ((date.getUTCDay() + 6) % 7));
  return date.toISOString().slice(0, 10);
}

type Got = { lines: readonly DueLine[]; isAll: boolean };

/** The lines of a week, or of the year: those that came with the page, else what is asked for. `further` is null where all are here. */
function useDueLines(board: DueBoard, filter: Filter) {
  const isWhole = board.lines.length >= board.listed;
  const [week, setWeek] = useState<string | null>(null);
  const [got, setGot] = useState<ReadonlyMap<string | null, Got>>(new Map([[null, { lines: board.lines, isAll: isWhole }]]));
  const [isLoading, setLoading] = useState(false);
  const [fault, setFault] = useState('');
  const inWeek = (l: DueLine) => l.nextDue !== null && mondayOf(l.nextDue) === week;
  const ofWeek = got.get(week) ?? (isWhole ? { lines: board.lines.filter(inWeek), isAll: true } : null);
  const askFor = async (of: string | null, before: readonly DueLine[]) => {
    setLoading(true);
    const query = {
      ...(filter.owner ? { owner: filter.owner } : {}),
      ...(filter.place ? { place: filter.place } : {}),
      ...(of === null ? {} : { week: of }),
      after: String(before.length),
    };
    const answer = await ask('GET /api/due', { query });
    setLoading(false);
    setFault(answer.ok ? '' : answer.refusal.message);
    if (!answer.ok) return;
    const { lines } = answer.body;
    setGot((known) => new Map(known).set(of, { lines: [...before, ...lines], isAll: lines.length < linesAtOnce }));
  };
  return {
    week,
    choose: (of: string | null) => {
      setWeek(of);
      if (!isWhole && !got.has(of)) void askFor(of, []);
    },
    lines: ofWeek?.lines ?? [],
    known: [...new Map([...got.values()].flatMap((g) => g.lines.map((l) => [l.id, l] as const))).values()],
    isLoading,
    fault,
    further: ofWeek && !ofWeek.isAll ? () => void askFor(week, ofWeek.lines) : null,
  };
}

/** The address holds a key of its own: whoever has it sees what is due, and nothing else. */
function CalendarAddress({ path }: { path: string }) {
  const [key, setKey] = useState('');
  const [fault, setFault] = useState('');
  const whole = `${window.location.origin}${path}${path.includes('?') ? '&' : '?'}key=${key}`;
  async function make() {
    const answer = await ask('POST /api/due/calendar', {});
    if (answer.ok) setKey(answer.body.key);
    else setFault(answer.refusal.message);
  }
  return (
    <>
      {key ? (
        <>
          <input
            readOnly
            value={whole}
            aria-label="Address of the calendar"
            className="figure mt-3 w-full text-sm"
            onFocus={(e) => e.target.select()}
          />
          <p className="mt-1 text-soft">
            Whoever has this address sees what is due. It is not shown again; an administrator ends it.
          </p>
        </>
      ) : (
        <p className="mt-3">
          <button type="button" className="button button-main" onClick={() => void make()}>
            Make the address
          </button>
        </p>
      )}
      {fault && (
        <p className="fault mt-3" role="alert">
          {fault}
        </p>
      )}
      <a href={path} className="mt-2 inline-block" download="calibrations.ics">
        Or take it as a file, once
      </a>
    </>
  );
}

/** Moves several to one day, the earliest of theirs that is still to come where nothing else is typed. */
function MoveTogether({ lines, today, onClose }: { lines: readonly DueLine[]; today: string; onClose: () => void }) {
  const earliest = lines.flatMap((l) => (l.nextDue !== null && l.nextDue >= today ? [l.nextDue] : [])).sort()[0] ?? today;
  return (
    <MoveDates
      title={`Move ${lines.length} to one day`}
      instruments={lines.map((l) => l.id)}
      first={earliest}
      reasonTitle={() => 'Reason, for instance: goes with the others of its room'}
      onClose={onClose}
    >
      {(to) => {
        const later = lines.filter((l) => l.nextDue !== null && l.nextDue < to).length;
        return (
          <>
            <p className="ident">{lines.map((l) => l.identification).join(', ')}</p>
            {later > 0 && (
              <p className="caution">
                For {later} of them this is later than what was decided when they were calibrated. Say why that is right.
              </p>
            )}
          </>
        );
      }}
    </MoveDates>
  );
}
