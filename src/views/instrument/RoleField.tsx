import { DueWords } from '../../ui/DueTrack';
import type { BenchRole } from './start-fields';

/** Which of the laboratory's standards fill a role: those that may, why others may not, and what is left out without one. */
export function RoleField({
  role,
  filled,
  onPress,
}: {
  role: BenchRole;
  filled: readonly string[];
  onPress: (standard: string) => void;
}) {
  return (
    <fieldset className="mt-4">
      <legend>
        {role.title}
        {role.optional && ', if there is one'}
      </legend>
      {role.standards.length === 0 && (
        <p className={`mt-2 ${role.optional ? 'text-soft' : 'fault'}`}>
          None is registered. <a href="/standards/new">Enter one with its certificate</a>
          {role.optional ? '.' : ' first.'}
        </p>
      )}
      <div className="ruled mt-2 border-y border-rule">
        {role.standards.map((s) => (
          <label key={s.id} className={`flex items-start gap-3 py-3 ${s.refusal ? '' : 'cursor-pointer'}`}>
            <input
              type={role.several || role.optional ? 'checkbox' : 'radio'}
              name={`standard-${role.role}`}
              className="mt-1 size-5 accent-verdigris"
              style={{ minHeight: 0 }}
              disabled={s.refusal !== null}
              checked={filled.includes(s.id)}
              onChange={() => onPress(s.id)}
            />
            <span className="flex-1">
              <span className="flex justify-between gap-3">
                <span className={`ident ${s.refusal ? 'text-soft' : 'font-bold'}`}>{s.identification}</span>
                {s.due && <DueWords standing={s} />}
              </span>
              <span className="block text-sm text-soft">{s.designation}</span>
              {s.refusal && <span className="mt-1 block text-sm text-brick">{s.refusal}</span>}
              {s.caution && <span className="caution mt-1 block text-sm">{s.caution}</span>}
              {!s.refusal && s.standing === 'nearly-due' && (
                <span className="mt-1 block text-sm text-ochre">Its certificate runs out on {s.due}. It may still be used.</span>
              )}
            </span>
          </label>
        ))}
      </div>
      {role.optional && role.only.length > 0 && filled.length === 0 && (
        <p className="mt-1 text-sm text-ochre">Without it this is left out: {role.only.join(', ')}.</p>
      )}
    </fieldset>
  );
}
