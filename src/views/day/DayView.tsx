import { daysOf, isLate, timeOfMinute, workingDays, type DayBoard, type DayWork } from '../../core/day/day-board';
import type { DayAnswer } from '../../core/day/day-schema';
import { hoursWords } from '../../core/document/plan-words';
import { minutesADay } from '../../core/day/weeks';
import { guarded } from '../../ui/guarded';
import { saveFile } from '../../ui/save-file';
import { DayChart, dayName } from './DayChart';
import { useDayPlan } from './use-day-plan';

const sum = (numbers: readonly number[]) => numbers.reduce((a, b) => a + b, 0);

/** The next working days: what lies on the bench, what is overdue and what comes due, woven into each other's waits. */
export const DayView = guarded(function DayView({ board }: { board: DayBoard }) {
  const { wish, plan, state, lost, change, stop } = useDayPlan(board);
  const byId = new Map(board.work.map((w) => [w.id, w]));
  const days = daysOf(board, wish);
  const isToday = days[0] === board.today;
  const planned = plan ? board.work.filter((w) => plan.finished.includes(w.id)) : [];
  const left = plan ? board.work.filter((w) => !plan.finished.includes(w.id) && !wish.leftOut.includes(w.id)) : [];
  const onMove = (id: string, to: number | null) => {
    const { [id]: _moved, ...others } = wish.notBefore;
    change({ notBefore: to === null ? others : { ...others, [id]: to } });
  };
  const cost = lost.filter((id) => !wish.leftOut.includes(id));
  const isChanged = Object.keys(wish.notBefore).length > 0 || wish.leftOut.length > 0;
  return (
    <>
      <div className="flex flex-wrap items-end gap-x-5 gap-y-2">
        <h1 className="mr-auto max-sm:w-full">{wish.days === 1 ? (isToday ? 'Today' : 'The next day') : 'The next days'}</h1>
        <Hours label="Hands from" value={wish.from} within={[0, wish.to - 60]} onChoose={(from) => change({ from })} />
        <Hours label="until" value={wish.to} within={[wish.from + 60, minutesADay]} onChoose={(to) => change({ to })} />
        <Count label="People" value={wish.people} most={6} onChoose={(people) => change({ people })} />
        <Count label="Days" value={wish.days} most={5} onChoose={(days) => change({ days, notBefore: {} })} />
        {plan && planned.length > 0 && (
          <button type="button" className="button" onClick={() => void calendar(plan, board.work, days)}>
            As calendar
          </button>
        )}
        {isChanged && (
          <button type="button" className="button" onClick={() => change({ notBefore: {}, leftOut: [] })}>
            As first planned
          </button>
        )}
      </div>
      <p className="mt-1 min-h-6 text-sm text-soft" role="status">
        {plan && summary(plan, planned, board.today, days)}
        {state === 'searching' ? ' Looking for a better one… ' : state === 'stopped' ? ' Stopped: the best so far.' : ''}
        {state === 'searching' && (
          <button type="button" className="underline" onClick={stop}>
            Stop
          </button>
        )}
      </p>
      {cost.length > 0 && (
        <p className="caution mt-1" role="alert">
          So it is no longer in time: {cost.map((id) => byId.get(id)?.identification ?? id).join(', ')}.
        </p>
      )}
      {plan && planned.length > 0 && (
        <div className="mt-2">
          <DayChart
            work={board.work}
            plan={plan}
            wish={wish}
            today={board.today}
            days={days}
            now={isToday ? board.minute : null}
            onMove={onMove}
            onLeaveOut={(id) => change({ leftOut: [...wish.leftOut, id] })}
          />
          <p className="mt-1 text-sm text-soft">
            Solid: hands on it. Thin: it waits by itself. Drag a line, or press ← → on it, to begin later or earlier; x leaves it
            out.
          </p>
        </div>
      )}
      {board.isMore && <p className="mt-1 text-sm text-soft">More is due than is looked at here: those due first are.</p>}
      {board.work.length === 0 && (
        <p className="mt-4 border-y border-rule-strong bg-sheet px-4 py-5">
          Nothing lies on the bench, and nothing that was calibrated here before is due within the next weeks.
        </p>
      )}
      <div className="mt-6 grid gap-8 lg:grid-cols-[1fr_22rem]">
        {plan && <ByTheClock plan={plan} byId={byId} people={wish.people} days={days} />}
        <aside className="flex flex-col gap-6">
          <Cautions work={planned} />
          {left.length > 0 && (
            <section>
              <h2>Not in these hours</h2>
              <ul className="ruled mt-2 border-y border-rule">
                {left.slice(0, mostLeft).map((w) => (
                  <li key={w.id} className="py-2">
                    <a href={w.address} className="ident font-bold">
                      {w.identification}
                    </a>
                    <span className="block text-sm text-soft">{whyInDays(plan?.why[w.id], days[0]!)}</span>
                  </li>
                ))}
              </ul>
              {left.length > mostLeft && <p className="mt-1 text-sm text-soft">And {left.length - mostLeft} more.</p>}
            </section>
          )}
          <LeftOut
            board={board}
            leftOut={wish.leftOut}
            onTakeBack={(id) => change({ leftOut: wish.leftOut.filter((x) => x !== id) })}
          />
          {board.unplanned.length > 0 && (
            <section>
              <h2>Not planned</h2>
              <ul className="ruled mt-2 border-y border-rule">
                {board.unplanned.slice(0, mostLeft).map((u) => (
                  <li key={u.id} className="py-2">
                    <a href={`/instruments/${u.id}`} className="ident font-bold">
                      {u.identification}
                    </a>
                    <span className="block text-sm text-soft">{u.why}</span>
                  </li>
                ))}
              </ul>
              {board.unplanned.length > mostLeft && (
                <p className="mt-1 text-sm text-soft">And {board.unplanned.length - mostLeft} more.</p>
              )}
            </section>
          )}
        </aside>
      </div>
    </>
  );
});

/** A reason with the names of days in place of their numbers. */
const whyInDays = (why = 'There is no room for it.', first: string): string =>
  why.replace(/\bday (\d{1,3})\b/, (_, n: string) => workingDays(first, Number(n) + 1).at(-1)!);

/** The plan as a calendar, to be kept. */
async function calendar(plan: DayAnswer, work: readonly DayWork[], days: readonly string[]): Promise<void> {
  const { dayCalendar } = await import('./day-calendar');
  saveFile(dayCalendar(plan, work, days, window.location.origin), 'text/calendar', `day-${days[0]!}`, 'ics');
}

/** Lines of what is not planned that are shown. */
const mostLeft = 8;

/** What the plan comes to, in a sentence. */
function summary(plan: DayAnswer, planned: readonly DayWork[], today: string, days: readonly string[]): string {
  if (planned.length === 0) return 'Nothing fits into these hours.';
  const hands = sum(planned.flatMap((w) => w.steps.filter((s) => !s.isWait).map((s) => s.minutes)));
  const waits = sum(planned.flatMap((w) => w.steps.filter((s) => s.isWait).map((s) => s.minutes)));
  const last = Math.max(...plan.entries.map((e) => e.to));
  const instruments = planned.length === 1 ? '1 instrument' : `${planned.length} instruments`;
  const missed = planned.filter((w) => isLate(w, today, plan.late.includes(w.id))).length;
  const late = missed > 0 ? `, ${missed} of them after their day` : '';
  return `${instruments}, as far as their plans are known${late}: ${hoursWords(hands)} of hands beside ${hoursWords(waits)} of waiting, the last ${days.length > 1 ? `on ${dayName(days[Math.floor(last / minutesADay)]!)} ` : ''}at ${timeOfMinute(last)}.`;
}

/** What is done when: every change from one thing to the next, with what it needs. */
function ByTheClock({
  plan,
  byId,
  people,
  days,
}: {
  plan: DayAnswer;
  byId: ReadonlyMap<string, DayWork>;
  people: number;
  days: readonly string[];
}) {
  const hands = plan.entries.filter((e) => e.person !== undefined && byId.has(e.job));
  if (hands.length === 0) return <div />;
  const next = (job: string, step: number) => byId.get(job)!.steps[step + 1];
  return (
    <section>
      <h2>By the clock</h2>
      {days.map((day, d) => {
        const here = hands.filter((e) => Math.floor(e.from / minutesADay) === d);
        if (here.length === 0) return null;
        return (
          <div key={day} className="mt-2">
            {days.length > 1 && <h3 className="text-sm font-bold">{dayName(day)}</h3>}
            <ol className="ruled border-y border-rule">
              {here.map((e) => {
                const work = byId.get(e.job)!;
                const step = work.steps[e.step]!;
                const after = next(e.job, e.step);
                return (
                  <li key={`${e.job} ${e.step}`} className="grid grid-cols-[7.5rem_1fr] gap-x-3 py-2">
                    <span className="figure whitespace-nowrap">
                      {timeOfMinute(e.from)}–{timeOfMinute(e.to)}
                    </span>
                    <span>
                      <a href={work.address} className="ident font-bold">
                        {work.identification}
                      </a>{' '}
                      {step.title}
                      {people > 1 && <span className="text-soft"> · person {e.person! + 1}</span>}
                      <span className="block text-sm text-soft">
                        {step.uses.length > 0 && <>with {step.uses.join(', ')}</>}
                        {step.uses.length > 0 && after?.isWait && ' · '}
                        {after?.isWait && (
                          <>
                            then: {after.title}, {after.isUnknown ? 'for as long as it says then' : hoursWords(after.minutes)}
                          </>
                        )}
                      </span>
                    </span>
                  </li>
                );
              })}
            </ol>
          </div>
        );
      })}
    </section>
  );
}

function Cautions({ work }: { work: readonly DayWork[] }) {
  const lines = work.flatMap((w) => [
    ...w.cautions.map((text) => ({ work: w, text })),
    ...w.steps
      .filter((s) => s.isUnknown)
      .map((s) => ({ work: w, text: `How long it waits (${s.title}) is known when it comes: none of it is planned.` })),
  ]);
  if (lines.length === 0) return null;
  return (
    <section>
      <h2>See to first</h2>
      <ul className="mt-2 flex flex-col gap-2">
        {lines.map(({ work: w, text }) => (
          <li key={`${w.id} ${text}`} className="caution text-sm">
            <span className="ident font-bold">{w.identification}</span>: {text}
          </li>
        ))}
      </ul>
    </section>
  );
}

function LeftOut({
  board,
  leftOut,
  onTakeBack,
}: {
  board: DayBoard;
  leftOut: readonly string[];
  onTakeBack: (id: string) => void;
}) {
  const work = board.work.filter((w) => leftOut.includes(w.id));
  if (work.length === 0) return null;
  return (
    <section>
      <h2>Left out</h2>
      <ul className="ruled mt-2 border-y border-rule">
        {work.map((w) => (
          <li key={w.id} className="flex items-center justify-between py-1">
            <span className="ident font-bold">{w.identification}</span>
            <button type="button" className="button button-quiet" onClick={() => onTakeBack(w.id)}>
              Take it back in
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const halfHours = Array.from({ length: 2 * 24 + 1 }, (_, i) => 30 * i);

type HoursProps = { label: string; value: number; within: [least: number, most: number]; onChoose: (minute: number) => void };

/** A time of day, in half hours. */
const Hours = ({ label, value, within: [least, most], onChoose }: HoursProps) => (
  <label className="block">
    <span className="block text-sm text-soft">{label}</span>
    <select className="figure" value={value} onChange={(e) => onChoose(Number(e.target.value))}>
      {halfHours
        .filter((m) => m >= least && m <= most)
        .map((m) => (
          <option key={m} value={m}>
            {m === minutesADay ? '24:00' : timeOfMinute(m)}
          </option>
        ))}
    </select>
  </label>
);

function Count({
  label,
  value,
  most,
  onChoose,
}: {
  label: string;
  value: number;
  most: number;
  onChoose: (count: number) => void;
}) {
  return (
    <fieldset className="block">
      <legend className="text-sm text-soft">{label}</legend>
      <div className="flex">
        {Array.from({ length: most }, (_, i) => i + 1).map((n) => (
          <button
            key={n}
            type="button"
            aria-pressed={n === value}
            aria-label={`${n} ${label.toLowerCase()}`}
            className={`figure min-h-11 min-w-11 border border-rule-strong not-first:border-l-0 ${n === value ? 'bg-ink text-sheet' : 'bg-sheet'}`}
            onClick={() => onChoose(n)}
          >
            {n}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
