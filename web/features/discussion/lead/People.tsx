import { isEnough } from '@ecoute/core/discussions/talk';
import { clock } from '@ecoute/core/timing/words';
import type { DiscussionPlan } from '@ecoute/contract/assessments';
import type { InDiscussion } from '@ecoute/contract/discussions';
import { when } from '../../../parts/when';

/** What is left to be said of somebody's part, in words; empty where it is all there. */
export function owes({ given, excused, left }: InDiscussion, plan: DiscussionPlan): string {
  if (excused || left) return '';
  if (given.contributions + given.replies === 0) return 'has not spoken yet';
  if (plan.contributionsAsked + plan.repliesAsked === 0 || isEnough(given, plan)) return '';
  if (given.contributions === 0 && plan.contributionsAsked > 0) return 'only replied';
  if (given.replies === 0 && plan.repliesAsked > 0) return 'answered nobody yet';
  return 'not all yet';
}

/** Everybody in the discussion with what they gave, against what is asked. */
export function People({
  people,
  plan,
  circles,
  only,
  onOnly,
}: {
  people: readonly InDiscussion[];
  plan: DiscussionPlan;
  circles: readonly number[];
  /** Whose threads are in sight alone. */
  only: string | null;
  onOnly: (author: string | null) => void;
}) {
  const of = (given: number, asked: number) => (asked > 0 ? `${given} of ${asked}` : String(given));
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-sm">
        <thead>
          <tr className="text-start text-soft">
            <th scope="col" className="py-1 text-start font-normal">
              Name
            </th>
            {circles.length > 1 && (
              <th scope="col" className="px-2 text-end font-normal">
                Circle
              </th>
            )}
            <th scope="col" className="px-2 text-end font-normal">
              Contributions
            </th>
            <th scope="col" className="px-2 text-end font-normal">
              Replies
            </th>
            <th scope="col" className="ps-2 text-end font-normal">
              Spoken
            </th>
          </tr>
        </thead>
        <tbody>
          {people.map(p => {
            const missing = owes(p, plan);
            return (
              <tr key={p.author} className="border-t border-line align-baseline">
                <th scope="row" className="py-1 text-start font-semibold">
                  <button
                    type="button"
                    dir="auto"
                    aria-pressed={only === p.author}
                    onClick={() => onOnly(only === p.author ? null : p.author)}
                    className="min-h-9 text-start underline decoration-line underline-offset-4 aria-pressed:bg-ink aria-pressed:px-1 aria-pressed:text-sheet"
                  >
                    {p.name}
                  </button>
                  <span className="flex flex-wrap gap-x-3 font-normal text-soft">
                    {missing && <span className="font-semibold text-ink">{missing}</span>}
                    {p.excused && <span>excused</span>}
                    {p.left && <span>has left the class</span>}
                    {p.remindedAt && missing && <span>reminded {when(p.remindedAt)}</span>}
                    {p.lastAt && <span>last {when(p.lastAt)}</span>}
                  </span>
                </th>
                {circles.length > 1 && (
                  <td className="tabular px-2 text-end whitespace-nowrap">{p.circle || '–'}</td>
                )}
                <td className="tabular px-2 text-end whitespace-nowrap">
                  {of(p.given.contributions, plan.contributionsAsked)}
                </td>
                <td className="tabular px-2 text-end whitespace-nowrap">
                  {of(p.given.replies, plan.repliesAsked)}
                </td>
                <td className="tabular ps-2 text-end">{clock(p.given.spokenMs)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
