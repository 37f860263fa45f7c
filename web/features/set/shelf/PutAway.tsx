import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import type { AssessmentSummary } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
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
  if (assessments.length === 0) return null;
  return (
    <Collapsible.Root className="mt-8">
      <Collapsible.Trigger className="group flex min-h-11 items-center gap-x-2 text-start text-xl">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Put away <span className="text-base text-soft">{assessments.length}</span>
      </Collapsible.Trigger>
      <Collapsible.Content>
        <ul className="grid gap-px bg-line" aria-label="Put away">
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
        </ul>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
