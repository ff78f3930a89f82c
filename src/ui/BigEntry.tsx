import type { InputHTMLAttributes, Ref } from 'react';

type Props = InputHTMLAttributes<HTMLInputElement> & { unit: string; entryRef?: Ref<HTMLInputElement> };

/** The one entry of the moment, large enough to be read from a metre away. */
export function BigEntry({ unit, entryRef, className = '', ...input }: Props) {
  return (
    <div className="flex items-baseline gap-2 border-b-[3px] border-ink bg-sheet px-3 focus-within:border-verdigris">
      <input
        ref={entryRef}
        data-keys
        autoComplete="off"
        {...input}
        className={`figure !min-h-0 w-full min-w-0 !border-0 !bg-transparent !px-0 !py-1 leading-none font-bold !outline-none placeholder:text-rule-strong ${className || '!text-[3.9rem]'}`}
      />
      {unit && <span className="text-2xl text-soft">{unit}</span>}
    </div>
  );
}
