import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import type { useMarkup } from './useMarkup';

/** What keeps a running record or a drawing from being stored, and the choice where a colleague's is there meanwhile. */
export function MarkupTrouble({ trouble, settle }: Pick<ReturnType<typeof useMarkup>, 'trouble' | 'settle'>) {
  if (trouble === null) return null;
  return (
    <Notice
      kind="trouble"
      action={
        settle && (
          <span className="flex flex-wrap gap-2">
            <Button onClick={() => settle('here')}>Keep mine instead</Button>
            <Button look="quiet" onClick={() => settle('stored')}>
              Take the other
            </Button>
          </span>
        )
      }
    >
      {trouble}
    </Notice>
  );
}
