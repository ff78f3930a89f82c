import { useState } from 'react';
import { everyKind } from '../../core/register/competence';
import { roles, type Role } from '../../core/register/roles';
import { AddPerson } from '../../ui/AddPerson';
import { ask } from '../../ui/ask-server';
import { Dialog, DialogClose } from '../../ui/Dialog';
import { guarded } from '../../ui/guarded';
import { NoteCompetence } from './NoteCompetence';

export type Person = { name: string; roles: Role[]; owner: string | null; hasPassword: boolean; hasDigits: boolean };
export type Noted = {
  id: string;
  person: string;
  kind: string;
  may: 'run' | 'review' | 'approve';
  from: string;
  until: string | null;
  ground: string;
};

type Props = {
  people: Person[];
  competences: Noted[];
  kinds: { id: string; title: string }[];
  owners: string[];
  today: string;
  /** Whether whoever looks may change it. */ isAdministrator: boolean;
};

/** How long the link of an owner is good. */
const linkDays = 90;

const mayWords: Record<Noted['may'], string> = { run: 'calibrates', review: 'reviews', approve: 'approves' };

/** What was noted of somebody, put together by family. */
function byFamily(noted: readonly Noted[], kinds: Props['kinds'], today: string): string[] {
  const titleOf = new Map(kinds.map((k) => [k.id, k.title]));
  const good = noted.filter((c) => c.from <= today && (c.until === null || today <= c.until));
  return [...new Set(good.map((c) => c.kind))].map(
    (kind) =>
      `${kind === everyKind ? 'every family' : (titleOf.get(kind) ?? kind)}: ${good
        .filter((c) => c.kind === kind)
        .map((c) => mayWords[c.may] + (c.until ? ` until ${c.until}` : ''))
        .join(', ')}`,
  );
}

/** Who works here: what each may do, what was found of each, and how they sign in. */
export const PeopleBoard = guarded(function PeopleBoard({ people, competences, kinds, owners, today, isAdministrator }: Props) {
  const [shown, show] = useState(people);
  const [noted, setNoted] = useState(competences);
  const [open, setOpen] = useState<string | null>(null);
  const person = shown.find((p) => p.name === open);
  const change = (name: string, set: Partial<Person>) =>
    show((before) => before.map((p) => (p.name === name ? { ...p, ...set } : p)));

  return (
    <>
      <table className="mt-3 w-full border-y border-rule bg-sheet">
        <thead>
          <tr className="border-b border-ink">
            <th className="px-3 py-2">Name</th>
            <th className="px-3 py-2">May act as</th>
            <th className="px-3 py-2">Was found able to</th>
            <th className="px-3 py-2">Signs in with</th>
            <th aria-label="Change" />
          </tr>
        </thead>
        <tbody>
          {shown.map((p) => (
            <tr key={p.name} className="border-b border-rule align-top">
              <td className="px-3 py-3 font-bold">{p.name}</td>
              <td className="px-3 py-3">
                {p.roles.join(', ')}
                {p.owner && ` of ${p.owner}`}
              </td>
              <td className="px-3 py-3">
                {byFamily(
                  noted.filter((c) => c.person === p.name),
                  kinds,
                  today,
                ).map((line) => (
                  <span key={line} className="block">
                    {line}
                  </span>
                ))}
              </td>
              <td className="px-3 py-3 text-soft">
                {[p.hasPassword && 'password', p.hasDigits && 'digits'].filter(Boolean).join(', ') || 'nothing yet'}
              </td>
              <td className="px-3 py-1 text-right">
                {isAdministrator && (
                  <button
                    type="button"
                    className="button button-quiet"
                    aria-label={`Change ${p.name}`}
                    onClick={() => setOpen(p.name)}
                  >
                    Change
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {isAdministrator && (
        <div className="mt-4 max-w-md">
          <AddPerson
            title="Someone new"
            onAdded={(name) => {
              if (!shown.some((p) => p.name === name))
                show((before) => [
                  ...before,
                  { name, roles: ['technician', 'reviewer', 'approver'], owner: null, hasPassword: false, hasDigits: false },
                ]);
              setOpen(name);
            }}
          />
        </div>
      )}
      {person && (
        <ChangePerson
          key={person.name}
          person={person}
          noted={noted.filter((c) => c.person === person.name)}
          kinds={kinds}
          owners={owners}
          today={today}
          onChanged={(set) => change(person.name, set)}
          onNoted={(rows) => setNoted(rows(noted))}
          onRetired={() => {
            show((before) => before.filter((p) => p.name !== person.name));
            setOpen(null);
          }}
          onClose={() => setOpen(null)}
        />
      )}
    </>
  );
});

type ChangeProps = {
  person: Person;
  noted: Noted[];
  kinds: Props['kinds'];
  owners: string[];
  today: string;
  onChanged: (set: Partial<Person>) => void;
  onNoted: (rows: (before: Noted[]) => Noted[]) => void;
  onRetired: () => void;
  onClose: () => void;
};

/** Roles, competence and the way in of one person. */
function ChangePerson({ person, noted, kinds, owners, today, onChanged, onNoted, onRetired, onClose }: ChangeProps) {
  const [held, setHeld] = useState<Role[]>(person.roles);
  const [owner, setOwner] = useState(person.owner ?? '');
  const [said, setSaid] = useState('');
  const [fault, setFault] = useState('');
  const [code, setCode] = useState<{ code: string; until: string } | null>(null);
  const [link, setLink] = useState('');
  const [isAsked, setAsked] = useState(false);
  const isOwner = held.includes('owner');

  async function saveRoles() {
    setSaid('');
    const answer = await ask('PUT /api/people/roles', {
      body: { name: person.name, roles: held, owner: isOwner ? owner : null },
    });
    if (!answer.ok) return setFault(answer.refusal.message);
    setFault('');
    setSaid('Saved.');
    onChanged({ roles: answer.body.roles, owner: isOwner ? owner : null });
  }
  async function newCode() {
    const answer = await ask('POST /api/people/code', { body: { name: person.name } });
    if (answer.ok) setCode(answer.body);
    else setFault(answer.refusal.message);
  }
  async function newLink() {
    const answer = await ask('POST /api/people/link', { body: { name: person.name, days: linkDays } });
    if (answer.ok) setLink(window.location.origin + answer.body.path);
    else setFault(answer.refusal.message);
  }
  async function retire() {
    const answer = await ask('POST /api/people/retire', { body: { name: person.name } });
    if (answer.ok) onRetired();
    else setFault(answer.refusal.message);
  }
  async function end(id: string) {
    const answer = await ask('DELETE /api/competences/[id]', { id });
    if (!answer.ok) return setFault(answer.refusal.message);
    onNoted((before) => before.map((c) => (c.id === id ? { ...c, until: today < c.from ? c.from : today } : c)));
  }
  const titleOf = (kind: string) => (kind === everyKind ? 'every family' : (kinds.find((k) => k.id === kind)?.title ?? kind));

  return (
    <Dialog isOpen onClose={onClose} title={person.name} isWide>
      {fault && (
        <p className="fault mt-3" role="alert">
          {fault}
        </p>
      )}
      <fieldset className="mt-4">
        <legend className="font-bold">May act as</legend>
        <div className="mt-2 flex flex-wrap gap-x-6 gap-y-3">
          {roles.map((role) => (
            <label key={role} className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={held.includes(role)}
                onChange={(e) => {
                  setSaid('');
                  // An owner only looks; whoever works here is none.
                  setHeld(
                    e.target.checked
                      ? role === 'owner'
                        ? ['owner']
                        : [...held.filter((r) => r !== 'owner'), role]
                      : held.filter((r) => r !== role),
                  );
                }}
              />
              {role}
            </label>
          ))}
        </div>
        {isOwner && (
          <label className="mt-3 block max-w-md">
            <span className="block text-sm text-soft">Sees the instruments of</span>
            <select className="w-full" value={owner} onChange={(e) => setOwner(e.target.value)}>
              <option value="">Choose an owner</option>
              {owners.map((o) => (
                <option key={o}>{o}</option>
              ))}
            </select>
          </label>
        )}
        <p className="mt-3 flex items-center gap-4">
          <button type="button" className="button button-main" onClick={() => void saveRoles()}>
            Save
          </button>
          <span role="status">{said}</span>
        </p>
      </fieldset>
      <section className="mt-6 border-t border-rule pt-4">
        <h3 className="font-bold">Was found able to</h3>
        <ul className="ruled mt-2 border-y border-rule">
          {noted.map((c) => (
            <li key={c.id} className="flex flex-wrap items-center gap-x-4 py-2">
              <span className="min-w-64 flex-1">
                {mayWords[c.may]} {titleOf(c.kind)}
              </span>
              <span className="figure">
                {c.from} to {c.until ?? 'now on'}
              </span>
              <span className="min-w-48 flex-1 text-soft">{c.ground}</span>
              {(c.until === null || c.until > today) && (
                <button type="button" className="button button-quiet" onClick={() => void end(c.id)}>
                  End today
                </button>
              )}
            </li>
          ))}
          {noted.length === 0 && <li className="py-2 text-soft">Nothing is noted.</li>}
        </ul>
        <NoteCompetence
          name={person.name}
          kinds={kinds}
          today={today}
          onNoted={(rows) => onNoted((before) => [...before, ...rows])}
        />
      </section>
      <section className="mt-6 border-t border-rule pt-4">
        <h3 className="font-bold">Way in</h3>
        {person.owner && (
          <div className="mt-2">
            {link ? (
              <p>
                This shows {person.owner} its own instruments, due dates and certificates for {linkDays} days, and is not shown
                again: <strong className="font-mono break-all">{link}</strong>
              </p>
            ) : (
              <button type="button" className="button" onClick={() => void newLink()}>
                Make a link for {linkDays} days
              </button>
            )}
          </div>
        )}
        {code ? (
          <p className="mt-2">
            Hand this over; it is good once, until <span className="figure">{code.until.slice(0, 16).replace('T', ' ')} UTC</span>
            , and is not shown again: <strong className="ident !max-w-none text-xl">{code.code}</strong>
          </p>
        ) : (
          <p className="mt-2">
            <button type="button" className="button" onClick={() => void newCode()}>
              Make a code for a new password
            </button>
          </p>
        )}
      </section>
      <p className="mt-6 flex flex-wrap items-center gap-3 border-t border-rule pt-4">
        {isAsked ? (
          <>
            <span className="text-soft">No longer offered, signed out everywhere; past signatures stay.</span>
            <button type="button" autoFocus className="button" onClick={() => void retire()}>
              Retire the name
            </button>
            <button type="button" className="button button-quiet" onClick={() => setAsked(false)}>
              Keep it
            </button>
          </>
        ) : (
          <button type="button" className="button button-quiet" onClick={() => setAsked(true)}>
            Retire {person.name}
          </button>
        )}
        <DialogClose className="button button-quiet ml-auto">Close</DialogClose>
      </p>
    </Dialog>
  );
}
