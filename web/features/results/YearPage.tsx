import { Link, useParams } from 'react-router';
import { useTitle } from '../../base/useTitle';
import { counted } from '../../parts/counted';
import { Failed, Loading } from '../../parts/Loading';
import { useStudentPortfoliosQuery } from '../portfolios/endpoints';
import { ShownPortfolios, Suggest } from '../portfolios/OfStudent';
import { useStudentYearQuery } from './endpoints';
import { TermChoice, useTerm } from './TermChoice';
import { within } from './year/tasks';
import { Year } from './year/Year';

/** One student of a class over a term or a year. */
export function YearPage() {
  const { id: classId, studentId } = useParams();
  const { term, days, onTerm } = useTerm();
  const { currentData, data, error, refetch } = useStudentYearQuery({
    classId: classId!,
    studentId: studentId!,
  });
  const year = currentData ?? data;
  const { data: of } = useStudentPortfoliosQuery({ classId: classId!, studentId: studentId! });
  useTitle(year ? year.studentName : 'Results');
  if (!year) return error ? <Failed error={error} again={() => void refetch()} /> : <Loading height={76} />;
  const facts = [
    `${counted(year.sittings.length, 'sitting')} handed in`,
    ...(year.missing > 0 ? [`${year.missing} missing`] : []),
    ...(year.excused > 0 ? [`excused from ${year.excused}`] : []),
  ];
  return (
    <section>
      <p className="text-sm">
        <Link to={`/results/${classId}`} className="underline underline-offset-4">
          Markbook of {year.className}
        </Link>
      </p>
      <div className="mb-4 flex flex-wrap items-end justify-between gap-4">
        <div>
          <h1 className="text-3xl">{year.studentName}</h1>
          <p className="text-soft">{facts.join(' · ')}</p>
        </div>
        <TermChoice term={term} onTerm={onTerm} />
      </div>
      <ShownPortfolios of={of} path={`/results/${classId}/students/${studentId}`} />
      <Year
        year={year}
        acts={({ sitting, answer }) =>
          answer.takeId && sitting.feedbackGiven && !sitting.superseded ? (
            <Suggest
              key={answer.takeId}
              sittingId={sitting.sittingId}
              takeId={answer.takeId}
              what={sitting.title}
              state={of?.suggested.find(s => s.takeId === answer.takeId)?.state ?? null}
            />
          ) : null
        }
        sittings={within(year.sittings, days)}
        placeOf={(s, itemId) =>
          s.superseded
            ? null
            : `/listen/${s.releaseId}?by=student&sitting=${s.sittingId}${itemId ? `&item=${itemId}` : ''}`
        }
      />
    </section>
  );
}
