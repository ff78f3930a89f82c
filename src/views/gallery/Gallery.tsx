import { useState, type ReactNode } from 'react';
import { FormProvider, useForm } from 'react-hook-form';
import { AddPerson } from '../../ui/AddPerson';
import { BigEntry } from '../../ui/BigEntry';
import { Combobox } from '../../ui/Combobox';
import { DataTable, type DataColumn } from '../../ui/DataTable';
import { Decimal } from '../../ui/Decimal';
import { Dialog, DialogClose } from '../../ui/Dialog';
import { DueTrack, DueWords } from '../../ui/DueTrack';
import { Field } from '../../ui/Field';
import { FormInputs, type FormField } from '../../ui/form/FormFields';
import { PairMark, type Mark } from '../../ui/PairMark';
import { Digits } from '../../ui/Digits';
import { ShareBar } from '../../ui/ShareBar';
import { VerdictWord } from '../../ui/VerdictWord';
import { stages } from '../../core/run/next-step';
import { ReasonPrompt } from '../run/ReasonPrompt';
import { StageTrack } from '../run/StageTrack';
import { Tabs } from '../run/Tabs';

const both = { lower: -4, upper: 4 };
const mark = (value: number, U = 1): Mark => ({ value, expandedUncertainty: U });
const pairs: [string, Parameters<typeof PairMark>[0]][] = [
  ['inside', { limits: both, found: mark(1), left: null, unit: 'um' }],
  ['found outside, left inside', { limits: both, found: mark(5), left: mark(0.4), unit: 'um' }],
  [
    'accepted only within the guard band',
    { limits: both, acceptance: { lower: -3, upper: 3 }, found: mark(3.5), left: null, unit: 'um' },
  ],
  ['far beyond the strip', { limits: both, found: mark(40), left: mark(-40), unit: 'um' }],
  ['at most', { limits: { lower: null, upper: 2 }, found: mark(0.4, 0.1), left: null, unit: 'mm' }],
  ['at least', { limits: { lower: 10, upper: null }, found: mark(12, 0.5), left: null, unit: 'mm' }],
  ['a value between limits', { limits: { lower: 23, upper: 27 }, found: mark(25.3, 0.2), left: null, unit: 'mm' }],
  ['without uncertainty', { limits: both, found: { value: 2, expandedUncertainty: null }, left: null, unit: 'um' }],
];
const verdicts = ['pass', 'conditional-pass', 'not-determined', 'conditional-fail', 'fail'] as const;

function Part({ name, children }: { name: string; children: ReactNode }) {
  return (
    <section className="mb-8">
      <h2>{name}</h2>
      <div className="mt-2 flex flex-wrap items-start gap-6 border-y border-rule bg-sheet p-4">{children}</div>
    </section>
  );
}

const shapes = ['rectangular', 'triangular', 'arcsine'].map((value) => ({ value, title: `${value} distribution` }));
const bells = [
  { name: 'Treble', mass: 212.4 },
  { name: 'Tenor', mass: 1318 },
  { name: 'Not weighed', mass: null },
];
const bellColumns: DataColumn<(typeof bells)[number]>[] = [
  { id: 'name', title: 'Bell', sortBy: (b) => b.name, cell: (b) => b.name },
  { id: 'mass', title: 'Mass', align: 'right', className: 'figure', sortBy: (b) => b.mass, cell: (b) => b.mass ?? '–' },
  { id: 'note', title: 'Not sorted by', cell: () => 'cast' },
];

const exampleFields: FormField[] = [
  { name: 'text', title: 'Text', type: 'text', hint: 'With a hint' },
  { name: 'number', title: 'Number', type: 'number', unit: 'um' },
  { name: 'whole', title: 'Whole number', type: 'whole' },
  { name: 'day', title: 'Day', type: 'day' },
  { name: 'unit', title: 'Unit', type: 'unit' },
  { name: 'wrong', title: 'With a fault', type: 'number' },
  { name: 'rows', title: 'Rows', type: 'rows' },
  { name: 'check', title: 'Tick', type: 'check' },
];

/** A form as declarations make it. */
function FormPart() {
  const form = useForm({
    defaultValues: { text: '', number: '12,5', whole: '12', day: '', unit: 'mm', wrong: 'abc', rows: '', check: true },
    errors: { wrong: { type: 'custom', message: 'That is not a number.' } },
  });
  return (
    <Part name="A form made from declarations">
      <FormProvider {...form}>
        <form className="grid w-full grid-cols-4 gap-4">
          <FormInputs fields={exampleFields} />
        </form>
      </FormProvider>
    </Part>
  );
}

/** Every shared part in every state, to be looked at while it is worked on. */
export function Gallery() {
  const [tab, setTab] = useState('a');
  const [isOpen, setOpen] = useState(false);
  const [shape, setShape] = useState('arcsine');
  return (
    <>
      <Part name="Buttons and keys">
        <button className="button button-main">Main</button>
        <button className="button">Plain</button>
        <button className="button button-quiet">Quiet</button>
        <button className="button button-main" disabled>
          Not now
        </button>
        <button className="button">
          With a key <span className="key">x</span>
        </button>
      </Part>
      <Part name="What is said">
        <p className="caution">A caution: something that can hurt, or that has grown old.</p>
        <p className="fault">A fault: what is wrong, and what to do.</p>
      </Part>
      <Part name="Verdicts">
        {verdicts.map((v) => (
          <VerdictWord key={v} verdict={v} />
        ))}
        {verdicts.map((v) => (
          <VerdictWord key={`short ${v}`} verdict={v} short />
        ))}
        <VerdictWord verdict={null} />
      </Part>
      <Part name="The pair">
        {pairs.map(([name, props]) => (
          <figure key={name}>
            <PairMark {...props} />
            <figcaption className="text-sm text-soft">{name}</figcaption>
          </figure>
        ))}
      </Part>
      <Part name="Entry">
        <div className="w-80">
          <BigEntry unit="mm" aria-label="Empty" />
        </div>
        <div className="w-80">
          <BigEntry unit="mm" defaultValue="12.896" aria-label="Typed" />
        </div>
        <div className="w-80">
          <BigEntry unit="mm" defaultValue="12.896" disabled aria-label="Not now" />
        </div>
        <Field label="Field" hint="With a hint">
          <input className="w-full" aria-label="Field" />
        </Field>
        <Field label="Field with a fault" fault="Type a number.">
          <input className="w-full" aria-label="Field with a fault" defaultValue="abc" />
        </Field>
      </Part>
      <Part name="Numbers with their points below each other">
        <div>
          {['-0.0012', '12.5', '1200', '0.3'].map((text) => (
            <p key={text} className="text-right">
              <Decimal text={text} places={4} />
            </p>
          ))}
        </div>
      </Part>
      <Part name="Stages">
        {stages.slice(0, -1).map((s) => (
          <StageTrack key={s} stages={stages.slice(0, -1)} present={s} onPrepare={null} />
        ))}
      </Part>
      <Part name="Due">
        {[-60, -3, 4, 40, 300].map((days) => (
          <DueTrack key={days} days={days} />
        ))}
        {(['expired', 'nearly-due', 'good', 'none'] as const).map((standing, i) => (
          <DueWords key={standing} standing={{ standing, days: [-3, 12, 300, null][i]! }} />
        ))}
      </Part>
      <Part name="Tabs">
        <Tabs
          label="Which"
          inTabOrder
          tabs={[
            { id: 'a', title: 'Done', note: '✓' },
            { id: 'b', title: 'Half', note: '3 of 6' },
            { id: 'c', title: 'Without a note' },
          ]}
          shown={tab}
          onShow={setTab}
        >
          <p className="px-3 py-2">What stands under “{tab}”.</p>
        </Tabs>
      </Part>
      <Part name="One of many">
        <div className="w-64">
          <Combobox label="Nothing chosen" value="" options={shapes} onChoose={setShape} hint="With a hint" />
        </div>
        <div className="w-64">
          <Combobox label="Chosen; another may be typed" value={shape} options={shapes} onChoose={setShape} onOther={setShape} />
        </div>
        <div className="w-64">
          <Combobox label="With a fault" value={shape} options={shapes} onChoose={setShape} fault="Choose another." />
        </div>
      </Part>
      <Part name="A table">
        <DataTable label="Bells" columns={bellColumns} rows={bells} idOf={(b) => b.name} />
        <DataTable label="Small bells" isSmall columns={bellColumns} rows={bells.slice(0, 1)} idOf={(b) => b.name} />
      </Part>
      <Part name="Shares of the variance">
        <div className="w-72">
          {[1, 0.62, 0.004, 0, -0.18].map((share) => (
            <ShareBar key={share} share={share} />
          ))}
        </div>
      </Part>
      <FormPart />
      <Part name="Names">
        <Digits label="Digits" action="Go on" needsPassword={false} fault="" onEntered={() => undefined} />
        <div className="w-96">
          <AddPerson title="Someone new" onAdded={() => undefined} />
        </div>
      </Part>
      <Part name="A reason">
        <div className="w-96">
          <ReasonPrompt
            title="Why?"
            ready={['Mistyped', 'Disturbed']}
            confirm="Strike it out"
            onReason={() => 'Write a few words.'}
            onCancel={() => undefined}
          />
        </div>
      </Part>
      <Part name="Dialog">
        <button className="button" onClick={() => setOpen(true)}>
          Open it
        </button>
        <Dialog isOpen={isOpen} onClose={() => setOpen(false)} title="A dialog" aside={<DialogClose>Close</DialogClose>}>
          <p className="mt-3">Its text.</p>
        </Dialog>
      </Part>
    </>
  );
}
