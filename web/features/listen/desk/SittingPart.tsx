import { Download } from 'lucide-react';
import { clock } from '@ecoute/core/timing/words';
import { orderOf } from '@ecoute/core/timing/order';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import type { Lane } from '@ecoute/contract/marking';
import { Loading } from '../../../parts/Loading';
import { accountLines } from '../accountWords';
import { sittingWords } from '../sittingWords';
import { useAccountOfQuery } from '../endpoints';
import { EarlierScores } from './EarlierScores';

const time = new Intl.DateTimeFormat('en-GB', { timeStyle: 'medium' });

/** How the sitting went, moment by moment; who gave what when; and all of it on paper. */
export function SittingPart({ lane, content }: { lane: Lane; content: AssessmentContent }) {
  const { data } = useAccountOfQuery(lane.sittingId);
  return (
    <div className="grid gap-3">
      {sittingWords(lane) && (
        <p dir="auto" className="border-s-4 border-edge ps-3">
          {sittingWords(lane)} What was handed in before lies beside it.
        </p>
      )}
      <EarlierScores lane={lane} content={content} />
      <a
        href={`/api/sittings/${lane.sittingId}/sheet.pdf`}
        download
        className="inline-flex min-h-11 items-center gap-2 justify-self-start underline underline-offset-4"
      >
        <Download aria-hidden className="size-5" /> Feedback sheet (PDF)
      </a>
      <h2 className="font-semibold">How this sitting went</h2>
      {data ? (
        <ol className="border-s-2 border-line ps-4">
          {accountLines(data, orderOf(content.items, content.sections, lane.sittingId)).map((line, i) => (
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
    </div>
  );
}
