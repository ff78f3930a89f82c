/** What is there of what a first calibration needs, in the order in which it is asked for. */
export type Begun = { laboratory: boolean; standards: boolean; instruments: boolean };

const steps: { id: keyof Begun; title: string; hint: string; href: string; verb: string }[] = [
  {
    id: 'laboratory',
    title: 'Name the laboratory',
    hint: 'Its name and address stand at the head of every certificate.',
    href: '/laboratory',
    verb: 'Name it',
  },
  {
    id: 'standards',
    title: 'Enter the first reference standard',
    hint: 'With the values, uncertainties and dates of its certificate.',
    href: '/standards/new',
    verb: 'Enter a standard',
  },
  {
    id: 'instruments',
    title: 'Register the first instrument',
    hint: 'Its kind, its range, its resolution, its owner.',
    href: '/instruments/new',
    verb: 'Register an instrument',
  },
];

/** Leads from nothing at all to the first calibration: one step at a time, the next one open. */
export function FirstSteps({ begun }: { begun: Begun }) {
  const present = steps.findIndex((s) => !begun[s.id]);
  return (
    <section className="max-w-2xl">
      <h1>Three steps to the first calibration</h1>
      <ol className="ruled mt-4 border-y border-rule-strong bg-sheet">
        {steps.map((step, i) => {
          const isDone = begun[step.id];
          return (
            <li
              key={step.id}
              aria-current={i === present ? 'step' : undefined}
              className={`flex gap-4 px-4 py-4 ${i === present ? '' : 'text-soft'}`}
            >
              <span className="figure w-5 text-xl">{isDone ? '✓' : i + 1}</span>
              <div className="flex-1">
                <p className={i === present ? 'text-lg font-bold' : ''}>
                  {step.title}
                  {isDone && ': done'}
                </p>
                {i === present && (
                  <>
                    <p className="text-soft">{step.hint}</p>
                    <div className="mt-3">
                      <a href={step.href} className="button button-main">
                        {step.verb}
                      </a>
                    </div>
                  </>
                )}
              </div>
            </li>
          );
        })}
      </ol>
      <p className="mt-4 text-soft">
        Who else works here, and what each may do, stands under <a href="/people">People</a>.
      </p>
    </section>
  );
}
