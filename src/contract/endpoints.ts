import * as z from 'zod';
import { recordedEventSchema } from '../core/acts/registry';
import { decisionRuleSchema } from '../core/conformity/conformity-schema';
import { proposalSchema } from '../core/interval/proposal';
import { roles, type Role } from '../core/register/roles';
import type { Endpoint } from './endpoint';
import { peopleEndpoints } from './people-endpoints';
import { policySchema, policyScopeSchema } from '../core/interval/policy';
import { debriefSchema } from '../core/practice/debrief-shape';
import {
  idSchema,
  instrumentEntrySchema,
  laboratoryEntrySchema,
  peopleRulesSchema,
  standardEntrySchema,
} from '../core/register/entry-schemas';
import { standardSchema } from '../core/standard/standard-schema';
import { budgetSchema } from '../core/uncertainty/budget-schema';
import * as requests from './requests';

/*
 * Every address that programs and the pages themselves ask: what is sent, what comes back, and what else may be answered. Servers check
 * requests by it, browsers and tests are typed by it, and docs/endpoints.md is written from it.
 */

export type { Endpoint } from './endpoint';
export { refusalSchema } from './endpoint';

const made = z.object({ id: z.string() });
const day = z.iso.date();
const at = z.iso.datetime();

const runRow = z.looseObject({
  id: z.string(),
  instrumentId: z.string(),
  procedureId: z.string(),
  procedureRevision: z.number().int(),
  status: z.enum(['open', 'finished', 'abandoned']),
  startedAt: at,
  finishedAt: at.nullable(),
  certificate: z.string().nullable(),
  isReviewed: z.boolean(),
  purpose: z.enum(['calibration', 'quick']),
});
const instrumentRow = z.looseObject({
  id: idSchema,
  identification: z.string(),
  kind: z.string(),
  designation: z.string(),
  owner: z.string(),
  unit: z.string(),
  lower: z.number(),
  upper: z.number(),
  resolution: z.number(),
  decisionRule: decisionRuleSchema.nullable(),
  state: z.enum(['in-use', 'out-of-use']),
  lastCalibrated: day.nullable(),
  nextDue: day.nullable(),
});
const standardRow = z.looseObject({
  id: idSchema,
  identification: z.string(),
  kind: z.string(),
  due: day.nullable(),
  document: standardSchema,
});
const dueLine = z.object({
  id: idSchema,
  identification: z.string(),
  designation: z.string(),
  kind: z.string(),
  owner: z.string(),
  place: z.string(),
  nextDue: day.nullable(),
  days: z.number().int().nullable(),
});
const version = z.string();
const certificate = z.looseObject({
  format: z.literal('just-twice/certificate'),
  version: z.union([z.literal(1), z.literal(2)]),
  number: z.string(),
});

export const endpoints = {
  'GET /api/time': { what: 'The time of the server', answer: z.object({ now: at }), codes: [] },
  'GET /health': {
    what: 'Whether it answers, and when something was last recorded',
    answer: z.object({ status: z.literal('ok'), version: z.string(), schema: z.number().int(), lastWrite: at.nullable() }),
    isOpen: true,
    codes: [],
  },
  'POST /api/instruments': {
    what: 'Registers an instrument',
    request: instrumentEntrySchema,
    answer: made,
    status: 201,
    codes: [409, 422],
  },
  'GET /api/instruments/[id]': {
    what: 'An instrument, its calibrations and the run that is open',
    answer: z.object({ instrument: instrumentRow, history: z.array(runRow), open: runRow.optional(), version }),
    codes: [404],
  },
  'PUT /api/instruments/[id]': {
    what: 'Changes an instrument; If-Match names the version that was seen',
    request: instrumentEntrySchema,
    answer: made,
    codes: [404, 409, 422],
  },
  'GET /api/instruments/[id]/history.csv': { what: 'Every value of its calibrations', answer: 'text/csv', codes: [404] },
  'POST /api/instruments/[id]/counts': {
    what: 'Notes what a counter of use showed',
    request: requests.countRequestSchema,
    answer: z.object({ noted: z.literal(true) }),
    codes: [404, 409, 422],
  },
  'POST /api/instruments/[id]/findings': {
    what: 'Notes damage, a worn part, maintenance or a repair, and what follows from it',
    request: requests.findingRequestSchema,
    answer: z.object({ noted: z.literal(true) }),
    codes: [404, 422],
  },
  'PUT /api/instruments/[id]/card': {
    what: 'Keeps a new version of the card of its make and type',
    request: requests.cardRequestSchema,
    answer: z.object({ version: z.number().int().positive() }),
    codes: [404, 409, 422],
  },
  'POST /api/instruments/[id]/out': {
    what: 'Takes an instrument out to be used',
    request: requests.outRequestSchema,
    answer: z.object({ out: z.literal(true) }),
    codes: [404, 409, 422],
  },
  'POST /api/instruments/[id]/back': {
    what: 'Takes it back, with what it was used',
    request: requests.backRequestSchema,
    answer: z.object({ back: z.literal(true) }),
    codes: [404, 409, 422],
  },
  'POST /api/standards': {
    what: 'Registers a standard',
    request: standardEntrySchema,
    answer: made,
    status: 201,
    codes: [409, 422],
  },
  'GET /api/standards/[id]': {
    what: 'A standard, its former certificates and the runs that used it',
    answer: z.object({
      standard: standardRow,
      former: z.array(standardSchema),
      uses: z.array(
        z.object({
          id: z.string(),
          startedAt: at,
          status: z.enum(['open', 'finished', 'abandoned']),
          certificate: z.string().nullable(),
          identification: z.string(),
          instrumentId: z.string(),
        }),
      ),
      version,
    }),
    codes: [404],
  },
  'PUT /api/standards/[id]': {
    what: 'Changes a standard, or gives it a new certificate',
    request: standardEntrySchema,
    answer: made,
    codes: [404, 409, 422],
  },
  'POST /api/standards/[id]/impact': {
    what: 'Works out anew what used another certificate of a standard, with the one that it has now',
    request: requests.impactSchema,
    answer: z.object({
      looked: z.number().int(),
      same: z.number().int(),
      affected: z.array(
        z.looseObject({
          run: z.string(),
          identification: z.string(),
          certificate: z.string().nullable(),
          isJudgedOtherwise: z.boolean(),
        }),
      ),
      failed: z.array(z.object({ run: z.string(), identification: z.string(), why: z.string() })),
      chain: z.array(
        z.object({
          standard: z.string(),
          identification: z.string(),
          certificate: z.string(),
          runs: z.number().int(),
          step: z.number().int(),
        }),
      ),
    }),
    inLines: true,
    roles,
    isNoDeed: true,
    codes: [404],
  },
  'POST /api/procedures': {
    what: 'Takes a procedure into the library',
    request: z.looseObject({ format: z.literal('just-twice/procedure') }),
    answer: z.object({ id: z.string(), revision: z.number().int() }),
    status: 201,
    roles: ['approver'],
    signs: 'The procedure is approved, and begun from now on.',
    codes: [409, 422],
  },
  'DELETE /api/procedures/[id]': {
    what: 'Retires a procedure: it is not begun any more',
    request: requests.retirementSchema,
    answer: z.object({ id: z.string(), revision: z.number().int(), person: z.string(), reason: z.string(), at }),
    roles: ['approver'],
    signs: 'The procedure is taken out of use.',
    codes: [404, 422],
  },
  'POST /api/runs': {
    what: 'Puts an instrument on the bench, or several in one set-up',
    request: requests.startRequestSchema,
    answer: z.object({ run: z.string(), setUp: z.string().optional() }),
    isNoDeed: true,
    codes: [404, 409, 422],
  },
  'GET /api/runs/[id]/events': {
    what: 'The log of a run, or what came after an entry',
    query: z.object({ after: z.string().optional() }),
    answer: z.object({ events: z.array(recordedEventSchema) }),
    codes: [404, 422],
  },
  'POST /api/runs/[id]/events': {
    what: 'Records one act; what somebody else was first with comes back with 409',
    request: requests.appendRequestSchema,
    answer: z.object({ event: recordedEventSchema, repeated: z.boolean() }),
    roles: ['technician', 'reviewer'],
    isNoDeed: true,
    codes: [404, 409, 422],
  },
  'GET /api/runs/[id]/proposals': {
    what: 'What every method says of the next date',
    answer: z.object({
      sequence: z.number().int(),
      all: z.array(proposalSchema),
      chosen: proposalSchema,
      policy: z.object({ school: proposalSchema.shape.school, scope: z.union([policyScopeSchema, z.literal('none')]) }),
      isAlarm: z.boolean(),
    }),
    codes: [404],
  },
  'GET /api/runs/[id]/gains': {
    what: 'What each adjustment would gain by the next date, from the drift of the instrument',
    query: z.object({ set: z.string().max(40) }),
    answer: z.object({
      sequence: z.number().int(),
      gains: z.array(
        z.object({
          adjustment: z.string(),
          each: z.string().nullable(),
          months: z.number(),
          without: z.number(),
          with: z.number(),
          visits: z.number().int(),
        }),
      ),
    }),
    codes: [404, 422],
  },
  'GET /api/runs/[id]/certificate.json': {
    what: 'The certificate as it was issued; by its number one that another replaced',
    query: requests.issueSchema,
    answer: certificate,
    codes: [404, 409, 422],
  },
  'GET /api/runs/[id]/certificate.pdf': {
    what: 'The same on paper',
    query: requests.issueSchema,
    answer: 'application/pdf',
    codes: [404, 409, 422],
  },
  'GET /api/runs/[id]/record.json': {
    what: 'The whole record with its seals, in a file that can be checked with nothing but itself',
    answer: 'application/json',
    codes: [404],
  },
  'POST /api/practice': {
    what: 'Puts a made-up instrument with hidden faults on the practice bench',
    request: requests.practiceRequestSchema,
    answer: z.object({ practice: z.string() }),
    status: 201,
    isNoDeed: true,
    codes: [404, 422],
  },
  'GET /api/practice/[id]/events': {
    what: 'What was done in a practice, or what came after an entry',
    query: z.object({ after: z.coerce.number().int().min(0).optional() }),
    answer: z.object({ events: z.array(recordedEventSchema) }),
    codes: [404, 422],
  },
  'POST /api/practice/[id]/events': {
    what: 'Records one act of a practice; what another window was first with comes back with 409',
    request: requests.appendRequestSchema,
    answer: z.object({ event: recordedEventSchema, repeated: z.boolean() }),
    isNoDeed: true,
    codes: [404, 409, 422],
  },
  'GET /api/practice/[id]/shown': {
    what: 'What is to be seen at the practice bench now',
    query: z.object({ slot: z.string().max(400).optional() }),
    answer: z.object({
      sequence: z.number().int(),
      lines: z.array(z.object({ title: z.string(), text: z.string(), unit: z.string() })),
    }),
    codes: [404, 422],
  },
  'POST /api/practice/[id]/assist': {
    what: 'Has an assistant do the next thing, or everything up to the next decision',
    request: requests.assistRequestSchema,
    answer: z.object({ events: z.array(recordedEventSchema) }),
    isNoDeed: true,
    codes: [404, 409, 422],
  },
  'POST /api/practice/[id]/end': {
    what: 'Ends a practice and tells how it went',
    request: requests.practiceEndRequestSchema,
    answer: debriefSchema,
    isNoDeed: true,
    codes: [404, 422],
  },
  'GET /api/budgets': {
    what: 'The budgets that are kept',
    answer: z.object({ budgets: z.array(z.looseObject({ id: z.string(), name: z.string(), changedAt: z.string() })) }),
    codes: [],
  },
  'POST /api/budgets': { what: 'Keeps a budget', request: budgetSchema, answer: made, status: 201, codes: [422] },
  'GET /api/budgets/[id]': { what: 'A budget', answer: budgetSchema, codes: [404] },
  'PUT /api/budgets/[id]': { what: 'Changes a budget', request: budgetSchema, answer: made, codes: [404, 422] },
  'DELETE /api/budgets/[id]': { what: 'Removes a budget', answer: made, codes: [404] },
  'GET /api/due': {
    what: 'What comes due, of the year or of one week, some at a time',
    query: requests.linesRequestSchema,
    answer: z.object({ lines: z.array(dueLine) }),
    codes: [422],
  },
  'POST /api/due': {
    what: 'Moves due dates to one day, with the reason',
    request: requests.moveRequestSchema,
    answer: z.object({ moved: z.number().int() }),
    codes: [404, 422],
  },
  'POST /api/due/calendar': {
    what: 'Makes a key with which a calendar may be subscribed to, and nothing else; it is shown this once',
    answer: z.object({ id: z.string(), key: z.string() }),
    status: 201,
    roles: ['technician', 'reviewer', 'approver', 'administrator'],
    codes: [],
  },
  'GET /calendar.ics': { what: 'What comes due, as a calendar; of one owner or place', answer: 'text/calendar', codes: [] },
  'POST /api/policies': {
    what: 'Sets how next dates are told',
    request: requests.setPolicyRequestSchema,
    answer: z.object({ set: z.literal(true) }),
    roles: ['approver'],
    signs: 'How next dates are told is approved.',
    codes: [422],
  },
  'POST /api/policies/preview': {
    what: 'What a policy would change',
    request: requests.policyRequestSchema,
    answer: z.object({
      policy: policySchema.nullable(),
      concerned: z.number().int(),
      moved: z.array(
        z.object({
          id: z.string(),
          identification: z.string(),
          designation: z.string(),
          now: day.nullable(),
          then: day,
          school: proposalSchema.shape.school,
          reason: z.string(),
        }),
      ),
      inAYear: z.object({ now: z.number().int(), then: z.number().int() }),
    }),
    inLines: true,
    roles: roles,
    isNoDeed: true,
    codes: [422],
  },
  'GET /api/laboratory': {
    what: 'What certificates say of the laboratory',
    answer: z.object({ name: z.string(), address: z.string(), conditionInstruments: z.string(), timeZone: z.string() }),
    codes: [],
  },
  'PUT /api/laboratory/people': {
    what: 'Changes what is asked of whoever acts',
    request: peopleRulesSchema,
    answer: peopleRulesSchema,
    roles: ['administrator'],
    codes: [422],
  },
  'PUT /api/laboratory': {
    what: 'Changes it',
    request: laboratoryEntrySchema,
    answer: laboratoryEntrySchema,
    roles: ['administrator'],
    codes: [422],
  },
  'GET /api/laboratory/seal': {
    what: 'The end of the chain in which everything is sealed',
    answer: z.object({ since: at.nullable(), head: z.string().nullable(), lines: z.number().int() }),
    codes: [],
  },
  'POST /api/laboratory/seal': {
    what: 'Holds everything against the chain, and the chain against heads that were kept elsewhere',
    request: requests.sealCheckSchema,
    answer: z.object({ faults: z.array(z.string()), lines: z.number().int(), held: z.number().int() }),
    inLines: true,
    roles: roles,
    isNoDeed: true,
    codes: [422],
  },
  'POST /api/laboratory/clock': {
    what: 'Says that a time which the server gave was wrong',
    request: requests.clockRightSchema,
    answer: z.object({ person: z.string(), reason: z.string(), after: at, until: at }),
    roles: ['administrator'],
    codes: [409, 422],
  },
  ...peopleEndpoints,
} as const satisfies Record<string, Endpoint>;

/** Who may ask an endpoint. */
export const rolesOf = (name: EndpointName): readonly Role[] => {
  const endpoint: Endpoint = endpoints[name];
  return endpoint.roles ?? (name.startsWith('GET ') ? roles : ['technician']);
};

export type Endpoints = typeof endpoints;
export type EndpointName = keyof Endpoints;

type Schema<E, member extends string> = E extends Record<member, infer S extends z.ZodType> ? S : never;
/** What is sent, as whoever sends it writes it. */
export type SentTo<N extends EndpointName> = z.input<Schema<Endpoints[N], 'request'>>;
/** What is sent, as it was checked. */
export type RequestOf<N extends EndpointName> = z.output<Schema<Endpoints[N], 'request'>>;
export type QueryOf<N extends EndpointName> = z.output<Schema<Endpoints[N], 'query'>>;
/** What comes back. */
export type AnswerOf<N extends EndpointName> = z.output<Schema<Endpoints[N], 'answer'>>;
