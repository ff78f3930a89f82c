import { DataTable, type DataColumn } from '../../ui/DataTable';
import { hoursWords } from '../../core/document/plan-words';

export type ListedProcedure = {
  id: string;
  title: string;
  scope?: string | undefined;
  /** Null where they hang on what is measured first. */ readings: number | null;
  handsOnMinutes: number;
  waitingMinutes: number;
  /** Numbers of its worked examples, and how many of them agree. */ numbers: number;
  agree: number;
  /** Why it cannot be planned. */ fault?: string | undefined;
};

const columns: DataColumn<ListedProcedure>[] = [
  {
    id: 'title',
    title: 'Procedure',
    sortBy: (p) => p.title,
    cell: (p) => (
      <>
        <a href={`/procedures/${p.id}`} className="font-bold">
          {p.title}
        </a>
        <span className="block text-sm text-soft">{p.scope}</span>
      </>
    ),
  },
  {
    id: 'readings',
    title: 'Readings',
    align: 'right',
    className: 'figure',
    sortBy: (p) => p.readings,
    cell: (p) => p.readings ?? 'as measured',
  },
  {
    id: 'bench',
    title: 'At the bench',
    align: 'right',
    className: 'figure',
    sortBy: (p) => p.handsOnMinutes,
    cell: (p) => hoursWords(p.handsOnMinutes),
  },
  {
    id: 'waiting',
    title: 'Waiting',
    align: 'right',
    className: 'figure',
    sortBy: (p) => p.waitingMinutes,
    cell: (p) => hoursWords(p.waitingMinutes),
  },
  {
    id: 'example',
    title: 'Worked example',
    className: 'whitespace-nowrap font-bold',
    cell: ({ numbers, agree, fault }) =>
      fault ? (
        <span className="whitespace-normal text-brick">cannot be planned: {fault}</span>
      ) : agree === numbers ? (
        <span className="text-verdigris">agrees, {numbers} numbers</span>
      ) : (
        <span className="text-brick">
          {numbers - agree} of {numbers} differ
        </span>
      ),
  },
];

export const ProcedureTable = ({ procedures }: { procedures: ListedProcedure[] }) => (
  <DataTable label="Procedures" columns={columns} rows={procedures} idOf={(p) => p.id} />
);
