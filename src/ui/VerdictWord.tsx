import { CircleCheck, CircleDashed, CircleHelp, CircleX, CircleAlert, type LucideIcon } from 'lucide-react';
import type { Verdict } from '../core/conformity/decide';

const looks: Record<Verdict, { words: string; short: string; tone: string; Icon: LucideIcon }> = {
  pass: { words: 'pass', short: 'pass', tone: 'text-verdigris', Icon: CircleCheck },
  'conditional-pass': { words: 'conditional pass', short: 'cond. pass', tone: 'text-ochre', Icon: CircleAlert },
  'conditional-fail': { words: 'conditional fail', short: 'cond. fail', tone: 'text-brick', Icon: CircleAlert },
  fail: { words: 'fail', short: 'fail', tone: 'text-brick', Icon: CircleX },
  'not-determined': { words: 'not determined', short: 'not det.', tone: 'text-soft', Icon: CircleHelp },
};

/** A verdict in words with its own sign; the colour only helps. */
export function VerdictWord({ verdict, short = false }: { verdict: Verdict | null; short?: boolean }) {
  if (!verdict)
    return (
      <span className="inline-flex items-center gap-1.5 align-bottom text-soft">
        <CircleDashed size={16} aria-hidden /> not judged
      </span>
    );
  const { words, short: brief, tone, Icon } = looks[verdict];
  return (
    <span className={`inline-flex items-center gap-1.5 align-bottom font-bold whitespace-nowrap ${tone}`} title={words}>
      <Icon size={16} aria-hidden /> {short ? brief : words}
    </span>
  );
}
