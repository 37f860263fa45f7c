import type { AssessmentSummary } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
import { PutAwayList } from '../../../parts/PutAwayList';
import { when } from '../../../parts/when';

const DAY_MS = 86_400_000;
/** As the server keeps what was thrown away. */
const KEPT_DAYS = 30;

/** Assessments that were put away or thrown away, and the way back to the shelf. */
export function PutAway({
  assessments,
  onBack,
}: {
  assessments: readonly AssessmentSummary[];
  onBack: (id: string) => void;
}) {
  return (
    <PutAwayList count={assessments.length} label="Put away">
      {assessments.map(({ id, content, away, awayAt, releases }) => {
        const title = content.title.trim() || 'Without a title';
        return (
          <li key={id} className="flex flex-wrap items-center gap-x-6 gap-y-2 bg-sheet px-5 py-3">
            <span className="min-w-0 flex-1 basis-72">
              <span className="block font-semibold">{title}</span>
              <span className="text-sm text-soft">
                {away === 'thrown' && awayAt
                  ? `thrown away ${when(awayAt)}, kept until ${when(new Date(Date.parse(awayAt) + KEPT_DAYS * DAY_MS).toISOString())}`
                  : `put away ${awayAt ? when(awayAt) : ''}`}
                {releases > 0 && ` · ${releases === 1 ? 'released once' : `released ${releases} times`}`}
              </span>
            </span>
            <Button aria-label={`Put “${title}” back on the shelf`} onClick={() => onBack(id)}>
              Put it back
            </Button>
          </li>
        );
      })}
    </PutAwayList>
  );
}
