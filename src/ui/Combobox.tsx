import { useId, useState } from 'react';
import * as Popover from '@radix-ui/react-popover';
import { Command, defaultFilter } from 'cmdk';
import { Check, ChevronsUpDown } from 'lucide-react';

export type ComboboxOption = { value: string; title: string };

/** The item for what the list does not have; it stands below all that fits. */
const asTyped = 'as typed';
const leastFit = 1e-6;

/**
 * One of many, found by typing a part of its name: arrows and Enter choose, Escape leaves all as it was.
 * @param onOther takes what was typed though the list does not have it
 */
export function Combobox({
  label,
  value,
  options,
  onChoose,
  onOther,
  hint,
  fault,
  isFocused = false,
}: {
  label: string;
  value: string;
  options: readonly ComboboxOption[];
  onChoose: (value: string) => void;
  onOther?: (typed: string) => void;
  hint?: string;
  fault?: string | undefined;
  isFocused?: boolean;
}) {
  const [isOpen, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const id = useId();
  const shown = options.find((o) => o.value === value)?.title ?? value;
  const choose = (act: () => void) => {
    act();
    setTyped('');
    setOpen(false);
  };
  const isNew = typed.trim() !== '' && !options.some((o) => o.value === typed.trim() || o.title === typed.trim());
  return (
    <div>
      <span id={id} className="block text-sm text-soft">
        {label}
      </span>
      <Popover.Root open={isOpen} onOpenChange={setOpen}>
        <Popover.Trigger asChild>
          <button
            type="button"
            role="combobox"
            aria-expanded={isOpen}
            aria-labelledby={`${id} ${id}-shown`}
            aria-invalid={fault ? true : undefined}
            autoFocus={isFocused}
            className="flex min-h-[2.75rem] w-full cursor-pointer items-center justify-between gap-2 border-[1.5px] border-rule-strong bg-sheet px-3 text-left !outline-offset-0"
          >
            <span id={`${id}-shown`} className="truncate">
              {shown || <span className="text-soft">Choose</span>}
            </span>
            <ChevronsUpDown size={15} aria-hidden className="shrink-0 text-soft" />
          </button>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="start"
            sideOffset={3}
            className="z-50 w-[max(var(--radix-popover-trigger-width),16rem)] border-[1.5px] border-ink bg-sheet"
          >
            <Command label={label} filter={(item, text) => (item === asTyped ? leastFit : defaultFilter!(item, text))}>
              <Command.Input
                value={typed}
                onValueChange={setTyped}
                placeholder="Type a part of it"
                className="w-full !border-x-0 !border-t-0"
              />
              <Command.List className="max-h-72 overflow-auto">
                {!onOther && <Command.Empty className="px-3 py-2 text-soft">Nothing fits.</Command.Empty>}
                {options.map((o) => (
                  <Command.Item
                    key={o.value}
                    value={`${o.title} ${o.value}`}
                    onSelect={() => choose(() => onChoose(o.value))}
                    className="flex cursor-pointer items-center gap-2 px-3 py-2 data-[selected=true]:bg-verdigris-tint"
                  >
                    <span className="w-4">{o.value === value && <Check size={15} aria-hidden />}</span>
                    {o.title}
                  </Command.Item>
                ))}
                {onOther && isNew && (
                  <Command.Item
                    forceMount
                    value={asTyped}
                    onSelect={() => choose(() => onOther(typed.trim()))}
                    className="cursor-pointer px-3 py-2 pl-9 data-[selected=true]:bg-verdigris-tint"
                  >
                    Another: “{typed.trim()}”
                  </Command.Item>
                )}
              </Command.List>
            </Command>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      {hint && !fault && <span className="block text-sm text-soft">{hint}</span>}
      {fault && <span className="fault mt-1 block text-sm">{fault}</span>}
    </div>
  );
}
