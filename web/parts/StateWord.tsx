import {
  Check,
  CircleDashed,
  CircleSlash,
  Clock4,
  DoorOpen,
  ArrowRightToLine,
  MessagesSquare,
  MessageSquareText,
  Mic,
  RotateCcw,
  PenLine,
  type LucideIcon,
} from 'lucide-react';
import type { SittingState } from '@ecoute/core/timing/sittingState';
import { t } from '../base/i18n';

const STATES: Record<SittingState, [LucideIcon, string]> = {
  notOpened: [CircleDashed, 'not opened'],
  underWay: [Mic, 'under way'],
  handedIn: [ArrowRightToLine, 'handed in'],
  marked: [PenLine, 'marked'],
  feedbackGiven: [MessageSquareText, 'feedback given'],
  answered: [MessagesSquare, 'answered'],
};

/** In a discussion nobody sits, and whoever has not spoken may have heard everything. */
const IN_TALK: Partial<Record<SittingState, string>> = {
  notOpened: 'not spoken yet',
  underWay: 'has spoken, not all yet',
};

/** A state is a word with an icon, never a colour alone. */
export function StateWord({
  state,
  late,
  missing,
  excused,
  askedAgain,
  isTalk = false,
}: {
  state: SittingState;
  late?: boolean;
  missing?: boolean;
  excused?: boolean;
  askedAgain?: boolean;
  /** Of a discussion. */
  isTalk?: boolean;
}) {
  const [Icon, usual] = STATES[state];
  const word = (isTalk && IN_TALK[state]) || usual;
  return (
    <span className="inline-flex flex-wrap items-center gap-x-3 gap-y-1 text-sm whitespace-nowrap">
      <span className="inline-flex items-center gap-1.5">
        <Icon aria-hidden className="size-4" />
        {t(word)}
      </span>
      {late && <Flag icon={Clock4} word={t('late')} />}
      {missing && <Flag icon={CircleSlash} word={t('missing')} />}
      {askedAgain && <Flag icon={RotateCcw} word={t('to record again')} />}
      {excused && <Flag icon={DoorOpen} word={t('excused')} />}
    </span>
  );
}

export function Flag({ icon: Icon = Check, word }: { icon?: LucideIcon; word: string }) {
  return (
    <span className="inline-flex items-center gap-1 border border-edge px-1.5 text-xs font-semibold">
      <Icon aria-hidden className="size-3.5" />
      {word}
    </span>
  );
}
