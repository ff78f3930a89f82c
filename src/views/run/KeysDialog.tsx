import { Dialog, DialogClose } from '../../ui/Dialog';
import { allKeys, type RunKey } from './keymap';

/** The keys of the run screen; a screen that has others says which. */
export function KeysDialog({
  more = [],
  without = [],
  onClose,
}: {
  more?: readonly RunKey[];
  without?: readonly RunKey[];
  onClose: () => void;
}) {
  return (
    <Dialog isOpen onClose={onClose} title="Keys">
      <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-2">
        {[...allKeys.filter((k) => !without.includes(k)), ...more].map(({ shown, what }) => (
          <div key={shown} className="contents">
            <dt>
              <span className="key">{shown}</span>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-4 text-right">
        <DialogClose>Close</DialogClose>
      </p>
    </Dialog>
  );
}
