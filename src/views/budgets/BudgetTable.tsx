import { DataTable, type DataColumn } from '../../ui/DataTable';

export type ListedBudget = { id: string; name: string; result: string | null; U: string | null; changed: string };

const columns: DataColumn<ListedBudget>[] = [
  {
    id: 'name',
    title: 'Budget',
    sortBy: (b) => b.name || null,
    cell: (b) => (
      <a href={`/budgets/${b.id}`} className="inline-block py-1 font-bold">
        {b.name || 'Without a name'}
      </a>
    ),
  },
  { id: 'result', title: 'Result', align: 'right', className: 'figure', cell: (b) => b.result ?? 'not complete' },
  { id: 'U', title: 'U', align: 'right', className: 'figure', cell: (b) => b.U },
  {
    id: 'changed',
    title: 'Changed',
    align: 'right',
    className: 'figure text-soft',
    sortBy: (b) => b.changed,
    cell: (b) => b.changed,
  },
];

export const BudgetTable = ({ budgets }: { budgets: ListedBudget[] }) => (
  <DataTable label="Uncertainty budgets" columns={columns} rows={budgets} idOf={(b) => b.id} />
);
