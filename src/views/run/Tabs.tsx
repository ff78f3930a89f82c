import type { ReactNode } from 'react';
import * as Radix from '@radix-ui/react-tabs';

export type Tab = {
  id: string;
  title: string;
  note?: string;
  /** Whether the note says that something failed. */ isFailed?: boolean;
};

/** Chooses what stands below. During a run the keys belong to the readings, so tabs are left out of the tab order. */
export function Tabs({
  label,
  tabs,
  shown,
  onShow,
  inTabOrder,
  children,
}: {
  label: string;
  tabs: readonly Tab[];
  shown: string;
  onShow: (id: string) => void;
  inTabOrder: boolean;
  children: ReactNode;
}) {
  if (tabs.length < 2) return children;
  return (
    <Radix.Root value={shown} onValueChange={onShow}>
      <Radix.List className="mb-1 flex flex-wrap gap-1" aria-label={label}>
        {tabs.map((tab) => (
          <Radix.Trigger
            key={tab.id}
            value={tab.id}
            {...(inTabOrder
              ? {}
              : {
                  tabIndex: -1,
                  // Chosen here, and the keyboard stays where it is.
                  onMouseDown: (e: React.MouseEvent) => {
                    e.preventDefault();
                    onShow(tab.id);
                  },
                })}
            className={`cursor-pointer border-b-2 px-3 py-1.5 ${shown === tab.id ? 'border-ink font-bold' : 'border-transparent'}`}
          >
            {tab.title}{' '}
            {tab.note && (
              <span className={tab.isFailed ? 'text-sm font-bold text-brick' : 'figure text-sm font-normal text-soft'}>
                {tab.note}
              </span>
            )}
          </Radix.Trigger>
        ))}
      </Radix.List>
      {/* What stands below is one sheet, whichever tab leads to it. */}
      <Radix.Content value={shown} tabIndex={-1}>
        {children}
      </Radix.Content>
    </Radix.Root>
  );
}
