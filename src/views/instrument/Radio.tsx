import type { ReactNode } from 'react';

/** One of several, with its words beside it. */
export function Radio({
  name,
  isChecked,
  onChoose,
  children,
}: {
  name: string;
  isChecked: boolean;
  onChoose: () => void;
  children: ReactNode;
}) {
  return (
    <label className="flex cursor-pointer items-start gap-3 py-2">
      <input
        type="radio"
        name={name}
        className="mt-1 size-5 accent-verdigris"
        style={{ minHeight: 0 }}
        checked={isChecked}
        onChange={onChoose}
      />
      <span className="flex-1">{children}</span>
    </label>
  );
}
