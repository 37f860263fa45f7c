/** What a cell of the markbook says. */
import {
  CircleDashed,
  CircleSlash,
  Clock4,
  DoorOpen,
  EarOff,
  EyeOff,
  MessageSquareText,
  MessagesSquare,
  Mic,
  PenLine,
  RotateCcw,
  type LucideIcon,
  ArrowRightToLine,
} from 'lucide-react';
import { isBack, type SittingState } from '@ecoute/core/timing/sittingState';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { MarkbookCell, MarkbookColumn } from '@ecoute/contract/results';

export interface CellWord {
  icon: LucideIcon;
  word: string;
  /** Not said in the cell, where its score says it; only by those who hear it. */
  isQuiet?: boolean;
}

export interface CellSaid {
  /** Score, level or what is done; empty for none. */
  score: string;
  /** What could be reached, or how many there are. */
  of: string;
  words: CellWord[];
}

const STATES: Record<SittingState, [LucideIcon, string]> = {
  notOpened: [CircleDashed, 'not opened'],
  underWay: [Mic, 'under way'],
  handedIn: [ArrowRightToLine, 'waits'],
  marked: [PenLine, 'marked'],
  feedbackGiven: [MessageSquareText, 'feedback given'],
  answered: [MessagesSquare, 'answered'],
};

const points = (value: number) => pointsText(toHundredths(value));

function scoreOf(cell: MarkbookCell, column: MarkbookColumn): Pick<CellSaid, 'score' | 'of'> {
  if (cell.level !== null) return { score: column.scale[cell.level] ?? '', of: '' };
  if (cell.done !== null) return { score: String(cell.done), of: `of ${column.items} done` };
  if (cell.points !== null && column.carries !== null)
    return { score: points(cell.points), of: `/ ${points(column.carries)}` };
  return { score: '', of: '' };
}

/** What a cell says, its score first; a scheme without numbers gives none. */
export function cellSaid(cell: MarkbookCell, column: MarkbookColumn): CellSaid {
  if (cell.namesHidden) return { score: '', of: '', words: [{ icon: EarOff, word: 'heard without names' }] };
  const { score, of } = scoreOf(cell, column);
  const words: CellWord[] = [];
  if (cell.excused) words.push({ icon: DoorOpen, word: 'excused' });
  if (cell.missing) words.push({ icon: CircleSlash, word: 'missing' });
  else if (!cell.excused || cell.state !== 'notOpened') {
    const [icon, word] = STATES[cell.state];
    const part = cell.state === 'handedIn' && cell.finished > 0;
    words.push({
      icon,
      word: part ? `${cell.finished} of ${cell.answered} marked` : word,
      // A score that its student has is the ordinary case.
      isQuiet: isBack(cell.state) && score !== '',
    });
  }
  if (isBack(cell.state) && cell.unseen) words.push({ icon: EyeOff, word: 'score held' });
  if (cell.late) words.push({ icon: Clock4, word: 'late' });
  if (cell.askedAgain) words.push({ icon: RotateCcw, word: 'to record again' });
  return { score, of, words };
}

/** The same in one line, for whoever hears the table or reads it on paper. */
export function cellLine(cell: MarkbookCell | null, column: MarkbookColumn): string {
  if (!cell) return 'not for them';
  const { score, of, words } = cellSaid(cell, column);
  return [[score, of].filter(Boolean).join(' '), ...words.map(w => w.word)].filter(Boolean).join(', ');
}
