import { Collapsible } from 'radix-ui';
import { clock } from '@ecoute/core/timing/words';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { orderOf } from '@ecoute/core/timing/order';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { Loading } from '../../parts/Loading';
import { accountLines } from './accountWords';
import { useAccountOfQuery } from './endpoints';

const time = new Intl.DateTimeFormat('en-GB', { timeStyle: 'medium' });

/** The account of a sitting, asked for when it is opened. */
export function HowItWent({ sittingId, content }: { sittingId: string; content: AssessmentContent }) {
  const [open, setOpen] = useState(false);
  const { data } = useAccountOfQuery(sittingId, { skip: !open });
  return (
    <Collapsible.Root open={open} onOpenChange={setOpen} className="px-4 pb-2">
      <Collapsible.Trigger className="group flex min-h-11 items-center gap-2 text-start">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        How this sitting went
      </Collapsible.Trigger>
      <Collapsible.Content>
        {data ? (
          <ol className="max-h-80 overflow-y-auto border-s-2 border-line ps-4">
            {accountLines(data, orderOf(content.items, content.sections, sittingId)).map((line, i) => (
              <li key={i} className={`flex gap-4 py-0.5 ${line.stands ? 'font-semibold' : ''}`}>
                <time dateTime={data.relative ? undefined : line.at} className="tabular shrink-0 text-soft">
                  {data.relative ? clock(Date.parse(line.at)) : time.format(new Date(line.at))}
                </time>
                {line.words}
              </li>
            ))}
          </ol>
        ) : (
          <Loading />
        )}
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
