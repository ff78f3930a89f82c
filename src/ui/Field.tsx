import type { ReactNode } from 'react';

/** A label over its input, with what is wrong under it. */
export function Field({
  label,
  hint,
  fault,
  children,
}: {
  label: string;
  hint?: string;
  fault?: string | undefined;
  children: ReactNode;
}) {
  return (
    <label className="block">
      <span className="block text-sm text-soft">{label}</span>
      {children}
      {hint && !fault && <span className="block text-sm text-soft">{hint}</span>}
      {fault && <span className="fault mt-1 block text-sm">{fault}</span>}
    </label>
  );
}
