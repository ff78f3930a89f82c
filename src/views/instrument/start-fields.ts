import * as z from 'zod';
import type { ProcedureDocument } from '../../core/procedure/document-schema';
import { calendarDaySchema } from '../../core/quantity/calendar-day';
import type { DueStanding } from '../../core/traceability/standing';

/** A procedure that serves the instrument, with the standards that could fill its roles. */
export type BenchOption = {
  id: string;
  revision: number;
  title: string;
  choices: ProcedureDocument['choices'];
  /** How many instruments one set-up takes. */ most: number;
  roles: (ProcedureDocument['standards'][number] & {
    /** What is not read without it. */ only: string[];
    standards: ({
      id: string;
      identification: string;
      designation: string;
      due: string | null;
      refusal: string | null;
      /** What it is too uncertain for. */ caution: string | null;
      /** For this instrument, last time. */ wasUsed?: boolean;
    } & DueStanding)[];
  })[];
};
export type BenchRole = BenchOption['roles'][number];
export type BenchChoice = BenchOption['choices'][number];

/** What is chosen and typed; what nobody touched is the plainest. */
export type StartTyped = {
  procedure: string;
  choices: Record<string, string>;
  standards: Record<string, string[]>;
  received: string;
  /** Other instruments in the same set-up, in their order. */ together: string[];
};

export const plainStart = (procedures: readonly BenchOption[]): StartTyped => ({
  procedure: procedures[0]?.id ?? '',
  choices: {},
  standards: {},
  received: '',
  together: [],
});

export const optionOf = ({ choices }: StartTyped, choice: BenchChoice): string =>
  choices[choice.id] ?? choice.default ?? choice.options[0]!.id;

/** The standards of a role: those that were chosen, else those of last time, else the first that can be used. */
export function filledBy({ standards }: StartTyped, role: BenchRole): string[] {
  const usable = role.standards.filter((s) => !s.refusal);
  const last = usable.filter((s) => s.wasUsed);
  const proposed = last.length > 0 && role.several ? last : usable.slice(0, 1);
  return standards[role.role] ?? proposed.map((s) => s.id);
}

/** What a procedure asks for with these choices: what a choice leaves out is not asked for. */
export function askedFor(procedure: BenchOption | undefined, typed: StartTyped): { choices: BenchChoice[]; roles: BenchRole[] } {
  const isAsked = (when: BenchRole['when']): boolean =>
    (Array.isArray(when) ? when : when ? [when] : []).every((w) => {
      if (!('choice' in w)) return true;
      const choice = procedure?.choices.find((c) => c.id === w.choice);
      return choice === undefined || [w.is].flat().includes(optionOf(typed, choice));
    });
  return {
    choices: procedure?.choices.filter((c) => isAsked(c.when)) ?? [],
    roles: procedure?.roles.filter((r) => isAsked(r.when)) ?? [],
  };
}

/** What one more press on a standard leaves chosen: one, several, or none where the role is optional. */
export function pressed(typed: StartTyped, role: BenchRole, id: string): string[] {
  const now = filledBy(typed, role);
  if (now.includes(id)) return role.several || role.optional ? now.filter((x) => x !== id) : now;
  return role.several ? [...now, id] : [id];
}

/** Another instrument that could stand in the same set-up. */
export type Companion = { id: string; identification: string; designation: string; nextDue: string | null };

/** Those that are chosen and can be, by the procedure that is chosen. */
export const companionsChosen = (procedure: BenchOption | undefined, typed: StartTyped): string[] =>
  typed.together.slice(0, (procedure?.most ?? 1) - 1);

const dayOfReceipt = calendarDaySchema('The day of receipt');

/** Turns what was chosen into the request that starts the run. */
export function startFormSchema(procedures: readonly BenchOption[]) {
  return z
    .object({
      procedure: z.string().min(1, 'No procedure serves this kind of instrument.'),
      choices: z.record(z.string(), z.string()),
      standards: z.record(z.string(), z.array(z.string())),
      together: z.array(z.string()),
      received: z.string().superRefine((text, context) => {
        const [wrong] = text.trim() === '' ? [] : (dayOfReceipt.safeParse(text.trim()).error?.issues ?? []);
        if (wrong) context.addIssue({ code: 'custom', message: wrong.message });
      }),
    })
    .transform((typed, context) => {
      const { choices, roles } = askedFor(
        procedures.find((p) => p.id === typed.procedure),
        typed,
      );
      for (const r of roles)
        if (!r.optional && filledBy(typed, r).length === 0)
          context.addIssue({ code: 'custom', path: ['standards', r.role], message: `${r.title}: choose one.` });
      return {
        procedure: typed.procedure,
        choices: Object.fromEntries(choices.map((c) => [c.id, optionOf(typed, c)])),
        standards: Object.fromEntries(roles.flatMap((r) => (filledBy(typed, r).length ? [[r.role, filledBy(typed, r)]] : []))),
        ...(typed.received.trim() ? { received: typed.received.trim() } : {}),
      };
    });
}
