import { useEffect, useRef, useState } from 'react';
import type { ChecksPage, NamedChart } from '../../core/interval/checks-page';
import { leastForLimits, ruleWords } from '../../core/interval/quick-checks';
import { limitWords, significant, withPrintedUnit } from '../../core/run/shown-value';
import { inShownUnit } from '../../core/run/shown-value';
import { ask } from '../../ui/ask-server';
import { guarded } from '../../ui/guarded';
import { newKey } from '../../ui/new-key';
import { usePerson } from '../../ui/person';
import { CheckChart } from '../charts';
import { SayWho } from '../../ui/SayWho';

/** The quick checks of an instrument: how they stand, the next one a press away, and what to do when one gives an alarm. */
export const ChecksView = guarded(function ChecksView({ checks }: { checks: ChecksPage }) {
  const { instrument, charts, standing } = checks;
  const latest = charts[0]?.checks.at(-1);
  const beginning = useBegin(checks);
  return (
    <>
      <div className="flex flex-wrap items-start gap-x-8 gap-y-3">
        <div className="mr-auto">
          <h1 className="ident !text-3xl">{instrument.identification}</h1>
          <p className="text-soft">{['Quick checks', instrument.designation, instrument.place].filter(Boolean).join(' · ')}</p>
        </div>
        <a href={`/instruments/${instrument.id}`} className="button">
          Its history
        </a>
      </div>
      <div className="mt-5 grid gap-8 lg:grid-cols-[1fr_22rem]">
        <section aria-label="How it stands">
          {checks.lookedFor && <LookedFor {...checks.lookedFor} />}
          {standing.state === 'alarm' && <Alarm checks={checks} beginning={beginning} />}
          {standing.state === 'quiet' && (
            <p className="text-lg" role="status">
              Quiet: the latest check of {latest!.day} is where it should be.
            </p>
          )}
          {standing.state === 'learning' && (
            <p className="text-lg" role="status">
              Inside its tolerance. Its own limits are told from {leastForLimits} checks; there are {charts[0]!.checks.length}.
            </p>
          )}
          {standing.state === 'none' && (
            <p className="border-y border-rule bg-sheet px-4 py-5">
              No quick check yet since it was put in order. The first one starts its chart.
            </p>
          )}
          {charts.map((chart) => (
            <figure key={`${chart.what}${chart.point}`} className="mt-3 border-y border-rule bg-sheet px-2 pt-3">
              <figcaption className="px-2 font-bold">{[chart.what, chart.point].filter(Boolean).join(', ')}</figcaption>
              <div role="img" aria-label={chartLabel(chart)}>
                <CheckChart chart={chart} />
              </div>
              <p className="px-2 pb-3 text-sm text-soft">{chartWords(chart)}</p>
            </figure>
          ))}
        </section>
        <Begin checks={checks} beginning={beginning} />
      </div>
    </>
  );
});

/** What a chart shows, for those who do not see it. */
function chartLabel(chart: NamedChart): string {
  const say = (v: number) =>
    withPrintedUnit(significant(inShownUnit(v, chart.unit, chart.shownIn), 3).replace('-', '−'), chart.shownIn);
  const checks = chart.checks.map((c) => `${c.day} ${say(c.value)}`).join('; ');
  return `${chart.what} ${chart.point}: ${checks}. Tolerance ${limitWords(chart.checks.at(-1)!, chart.unit, chart.shownIn)}.`;
}

/** What a chart watches, in words. */
function chartWords(chart: NamedChart): string {
  const last = chart.checks.at(-1)!;
  const tolerance = `Tolerance ${limitWords(last, chart.unit, chart.shownIn)}.`;
  if (!chart.limits) return `${tolerance} Its own limits are not told yet.`;
  const sigma = withPrintedUnit(significant(inShownUnit(chart.limits.sigma, chart.unit, chart.shownIn), 2), chart.shownIn);
  const isStated = chart.origin === 'stated';
  const origin = isStated ? 'stated by the procedure' : 'from its own first checks (moving range)';
  const chance = `by chance alone once in ${chart.rules.averageRunLength} checks${isStated ? ', where that σ is its own' : ''}`;
  return `${tolerance} Limits ${origin}: σ is ${sigma}. An alarm is given for one that is ${chart.rules.rules.map((r) => ruleWords[r]).join(', or ')}; ${chance}.`;
}

/** What looking for a cause before the latest check gave. */
function LookedFor({ title, helped }: { title: string; helped: boolean }) {
  return (
    <p
      className={`mb-3 border-l-4 px-3 py-2 ${helped ? 'border-verdigris bg-verdigris-tint' : 'border-ochre bg-ochre-tint'}`}
      role="status"
    >
      {helped
        ? `It was “${title}”: the check after looking for it gives no alarm.`
        : `Looked for “${title}”: it was not that, the alarm stays.`}
    </p>
  );
}

type AlarmProps = { checks: ChecksPage; beginning: ReturnType<typeof useBegin> };

function Alarm({ checks: { standing, instrument, inDoubt, start }, beginning }: AlarmProps) {
  if (standing.state !== 'alarm') return null;
  return (
    <div className="border-l-8 border-brick bg-brick-tint p-4" role="alert">
      <p className="text-xl font-bold">Alarm: the latest check is {standing.words}.</p>
      <ol className="mt-2 list-decimal pl-6">
        <li>Do not measure with it. Say so on the instrument.</li>
        {(start.procedure?.causes ?? []).map((cause) => (
          <li key={cause.id} className="py-1">
            <span className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1">
              <span className="min-w-0 flex-1 basis-64">
                <strong>{cause.title}.</strong> {cause.instruction}
                <span className="block text-sm">
                  {cause.minutes} min
                  {cause.tried > 0 &&
                    ` · here it was this ${cause.helped} of ${cause.tried} ${cause.tried === 1 ? 'time' : 'times'}`}
                </span>
              </span>
              <button
                type="button"
                className="button"
                disabled={!beginning.isReady}
                onClick={() => void beginning.begin(cause.id)}
              >
                Done: check again
              </button>
            </span>
          </li>
        ))}
        <li>Where the alarm stays, read what it is checked on with another instrument: that may have moved itself.</li>
        <li>
          Else <a href={`/instruments/${instrument.id}?start`}>calibrate {instrument.identification} now</a>.
        </li>
      </ol>
      <p className="mt-3">
        {standing.lastGood
          ? `Whatever was measured with it since its last good check, on ${standing.lastGood.day}, is in doubt until then.`
          : 'Whatever was measured with it since its last calibration is in doubt until then: no check since has been good.'}
      </p>
      {inDoubt.length > 0 && (
        <ul className="mt-2">
          {inDoubt.map((d) => (
            <li key={d.run}>
              <a href={`/runs/${d.run}`} className="ident">
                {d.certificate ?? 'on the bench'}
              </a>{' '}
              of {d.identification}, {d.day}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** How a check is begun, by itself or after a cause was looked for. */
function useBegin({ instrument, start }: ChecksPage) {
  const person = usePerson();
  const [run] = useState(newKey);
  const [fault, setFault] = useState('');
  const [isSending, setSending] = useState(false);
  const isMissing = start.standards.some((s) => s.standard === null);
  const begin = async (looksFor?: string) => {
    setSending(true);
    const answer = await ask('POST /api/runs', {
      body: {
        run,
        instrument: instrument.id,
        procedure: start.procedure!.id,
        purpose: 'quick',
        standards: Object.fromEntries(start.standards.map((s) => [s.role, [s.standard!.id]])),
        person,
        ...(looksFor ? { looksFor } : {}),
      },
    });
    if (answer.ok) return window.location.assign(`/runs/${answer.body.run}`);
    setFault(answer.refusal.message);
    setSending(false);
  };
  return { person, fault, begin, isReady: person !== '' && !isMissing && !isSending && start.open === null };
}

/** The next check, a press away; or what is in its way. */
function Begin({
  checks,
  beginning: { person, fault, begin, isReady },
}: {
  checks: ChecksPage;
  beginning: ReturnType<typeof useBegin>;
}) {
  const { instrument, start } = checks;
  const main = useRef<HTMLButtonElement>(null);
  // It cannot be pressed before it is known who presses it.
  useEffect(() => main.current?.focus(), [person]);
  return (
    <section aria-label="The next check">
      <h2>The next check</h2>
      {start.procedure === null ? (
        <p className="mt-2 border-y border-rule bg-sheet px-4 py-5">
          No procedure for this kind of instrument names a quick set.
        </p>
      ) : start.open ? (
        <p className="mt-3">
          {start.purpose === 'quick' ? 'A check has been begun. ' : 'It is on the bench for a calibration. '}
          <a href={`/runs/${start.open}`} className="button button-main mt-3 w-full">
            Carry on
          </a>
        </p>
      ) : (
        <>
          <p className="mt-2">
            {start.procedure.title}
            {start.procedure.how && `, ${start.procedure.how}`}.
          </p>
          {start.procedure.statement && <p className="text-sm text-soft">{start.procedure.statement}</p>}
          <ul className="ruled mt-3 border-y border-rule bg-sheet">
            {start.standards.map((s) => (
              <li key={s.role} className="px-4 py-2">
                <span className="block text-sm text-soft">{s.title}</span>
                {s.standard ? (
                  <>
                    <span className="ident font-bold">{s.standard.identification}</span>{' '}
                    {s.standard.designation !== s.title && <span className="text-sm">{s.standard.designation}</span>}
                  </>
                ) : (
                  <span className="text-brick">{s.refusal}</span>
                )}
              </li>
            ))}
          </ul>
          {fault && (
            <p className="fault mt-3" role="alert">
              {fault}
            </p>
          )}
          {!person && (
            <p className="mt-3">
              <SayWho />
            </p>
          )}
          <button
            type="button"
            ref={main}
            className="button button-main mt-4 min-h-16 w-full !text-xl"
            disabled={!isReady}
            onClick={() => void begin()}
          >
            Begin the check
          </button>
        </>
      )}
      <p className="mt-6 text-sm">
        <a href={`/instruments/${instrument.id}/label`}>Its label with the code</a>
      </p>
    </section>
  );
}
