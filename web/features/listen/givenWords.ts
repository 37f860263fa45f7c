import type { CalledOff, FeedbackResult } from '@ecoute/contract/marking';
import { counted } from '../../parts/counted';
import { when } from '../../parts/when';

/** What became of feedback that was taken back. */
export function takenBackWords({ calledOff, opened }: CalledOff): string {
  const done =
    calledOff === 0
      ? 'Nothing is taken back.'
      : `${counted(calledOff, 'sitting')} ${calledOff === 1 ? 'is' : 'are'} with you again.`;
  if (opened === 0) return done;
  return `${done} ${counted(opened, 'student')} ${opened === 1 ? 'has' : 'have'} seen theirs already, so it stays.`;
}

/** Who has their feedback now or will have it, and who was left alone for what. */
export function givenWords({ given, at, unfinished }: FeedbackResult): string {
  const many = given === 1 ? 'sitting' : 'sittings';
  const done = at
    ? `${given} ${many} will be with ${given === 1 ? 'its student' : 'their students'} ${when(at)}.`
    : `${given} ${many} ${given === 1 ? 'is with its student' : 'are with their students'} now.`;
  if (unfinished.length === 0) return done;
  const left = unfinished.map(u => {
    const why = [u.items.length > 0 && `item ${u.items.join(', ')}`, u.level && 'no level yet'];
    return `${u.studentName} (${why.filter(Boolean).join(', ')})`;
  });
  return `${done} Left alone: ${left.join('; ')}.`;
}
