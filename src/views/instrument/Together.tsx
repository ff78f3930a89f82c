import type { Companion } from './start-fields';

type Props = {
  /** The instrument from whose page this is started. */ first: string;
  companions: readonly Companion[];
  /** Those chosen, in their order. */ chosen: readonly string[];
  most: number;
  onChoose: (ids: string[]) => void;
};

/** Other instruments for the same set-up: the order in which they are pressed is the order in which they stand and are read. */
export function Together({ first, companions, chosen, most, onChoose }: Props) {
  const isFull = chosen.length + 1 >= most;
  const nameOf = (id: string) => companions.find((c) => c.id === id)?.identification ?? id;
  return (
    <fieldset className="mt-4">
      <legend>In one set-up with others</legend>
      <p className="text-sm text-soft">
        {chosen.length === 0
          ? 'Waits, conditions and readings of the reference are done once for all; each keeps its own record.'
          : `Read in this order and back: ${[first, ...chosen.map(nameOf)].join(', ')}.`}
      </p>
      <div className="ruled mt-2 max-h-60 overflow-auto border-y border-rule">
        {companions.map((c) => {
          const at = chosen.indexOf(c.id);
          return (
            <label key={c.id} className="flex cursor-pointer items-baseline gap-3 py-2">
              <input
                type="checkbox"
                className="size-5 self-center accent-verdigris"
                style={{ minHeight: 0 }}
                checked={at >= 0}
                disabled={at < 0 && isFull}
                onChange={() => onChoose(at >= 0 ? chosen.filter((id) => id !== c.id) : [...chosen, c.id])}
              />
              <span className="ident font-bold">{c.identification}</span>
              <span className="flex-1 truncate text-sm text-soft">{c.designation}</span>
              <span className="figure text-sm">{at >= 0 ? `${at + 2}.` : (c.nextDue ?? '')}</span>
            </label>
          );
        })}
      </div>
      {isFull && <p className="mt-1 text-sm text-soft">One set-up takes {most}.</p>}
    </fieldset>
  );
}
