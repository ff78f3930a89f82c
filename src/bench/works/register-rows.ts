import type { StandardSnapshot } from '../../core/plan/snapshots';
import type { InstrumentRow } from '../../store/register';
import type { DemoInstrument } from './instruments';
import { documentOn, standards } from './standards';
import { addresses, ownShop } from './owners';

/** The line of the register of an instrument of the works. */
export const instrumentRow = (demo: DemoInstrument): InstrumentRow => ({
  settings: {},
  id: demo.row.identification.toLowerCase(),
  serialNumber: '',
  use: '',
  kind: demo.kind,
  unit: demo.unit,
  usedLower: demo.row.lower,
  usedUpper: demo.row.upper,
  characteristics: {},
  lists: {},
  parts: {},
  stored: {},
  decisionRule: null,
  adjustmentAllowed: true,
  intervalMonths: null,
  ownerAddress: addresses[demo.row.owner] ?? '',
  // Those who send theirs in decide for themselves when it comes back.
  nextDateWanted: demo.row.owner === ownShop,
  state: 'in-use',
  lastCalibrated: null,
  nextDue: null,
  ...demo.row,
});

/** The standards of a run as they were on its day. */
export const standardsOn = (demo: DemoInstrument, today: string, date: string): Record<string, StandardSnapshot[]> =>
  Object.fromEntries(
    Object.entries(demo.standards).map(([role, ids]) => [
      role,
      ids.map((id) => ({
        id,
        document: documentOn(
          standards.find((s) => s.id === id)!,
          today,
          date,
        ),
      })),
    ]),
  );
