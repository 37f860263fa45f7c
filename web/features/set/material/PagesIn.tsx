import { FileStack } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { blankStimulus } from '@ecoute/contract/blank';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { desk } from '../../../parts/recorder/delivery';
import { Arriving } from './Arriving';
import { nextItem } from '../draft';
import { stands } from './brought';
import { useBrought } from './useBrought';

/** A PDF or a slide deck becomes items, one a page. */
export function PagesIn({
  assessmentId,
  content,
  onItems,
}: {
  assessmentId: string;
  /** The pages are answered and timed as what is here already. */
  content: AssessmentContent;
  onItems: (items: Item[]) => void;
}) {
  const file = useRef<HTMLInputElement>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { deliveries, bring } = useBrought(assessmentId, `${assessmentId} pages`, 'show');
  const arrived = deliveries.find(stands)?.recording;
  const told = useRef({ onItems, content });
  useEffect(() => {
    told.current = { onItems, content };
  });
  useEffect(() => {
    if (!arrived) return;
    desk.forget(arrived.id);
    const pages = arrived.details?.pages ?? 0;
    if (arrived.medium !== 'pages') {
      setTrouble('This is not a PDF and not a slide deck. Choose one of these, or add the file to an item.');
      return;
    }
    setTrouble(null);
    told.current.onItems(
      Array.from({ length: pages }, (_, i) => ({
        ...nextItem(told.current.content),
        stimuli: [blankStimulus(crypto.randomUUID(), 'pages', { recordingId: arrived.id, page: i + 1 })],
      })),
    );
  }, [arrived]);
  return (
    <>
      <Button onClick={() => file.current?.click()}>
        <FileStack aria-hidden className="size-5" />{' '}
        {planOf(content) ? 'PDF or slides, a starting point a page …' : 'PDF or slides, an item a page …'}
      </Button>
      <input
        ref={file}
        type="file"
        aria-hidden
        accept=".pdf,.pptx,.odp,application/pdf"
        aria-label="PDF or slides, an item a page"
        className="sr-only"
        tabIndex={-1}
        onChange={e => {
          const chosen = e.target.files?.[0];
          if (chosen) void bring(chosen).then(setTrouble);
          e.target.value = '';
        }}
      />
      {(deliveries.length > 0 || trouble) && (
        <div className="grid w-full gap-2">
          {deliveries.map(d => (
            <Arriving key={d.sound.id} delivery={d} />
          ))}
          {trouble && <Notice kind="trouble">{trouble}</Notice>}
        </div>
      )}
    </>
  );
}
