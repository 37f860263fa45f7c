import { Link, useParams, useSearchParams } from 'react-router';
import { useTitle } from '../../base/useTitle';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { useClassQuery } from '../classes/endpoints';
import { useMessagesQuery } from './endpoints';
import { MessageRow } from './MessageRow';
import { NewMessage } from './NewMessage';

/** Speaks to a class, a group or single students, and to their families; and shows who has heard what was said. */
export function SpeakPage() {
  const { id = '' } = useParams();
  const [asked] = useSearchParams();
  const { data: of, error, isLoading, refetch } = useClassQuery(id);
  const said = useMessagesQuery(id);
  useTitle(of ? `Speak to ${of.name}` : 'Speak to a class');
  if (isLoading) return <Loading />;
  if (!of) return <Failed error={error} again={() => void refetch()} />;
  return (
    <div className="grid max-w-4xl grid-cols-1 gap-8">
      <div>
        <p className="text-soft">
          <Link to={`/classes/${id}`} className="underline underline-offset-4">
            {of.name}
          </Link>
        </p>
        <h1 className="text-3xl">Speak to {of.name}</h1>
      </div>
      <NewMessage key={`${id} ${asked.get('to')}`} of={of} firstFor={asked.get('to')} />
      <section aria-labelledby="said">
        <h2 id="said" className="text-xl">
          What was said
        </h2>
        {said.isLoading && <Loading />}
        {said.error && !said.data && <Failed error={said.error} again={() => void said.refetch()} />}
        {said.data?.length === 0 && (
          <div className="mt-3">
            <Empty title="Nothing was said yet">
              A message plays on the first page of each student, and at an address of its own for each family.
              Here you see who has played it.
            </Empty>
          </div>
        )}
        <ul className="mt-3 grid gap-px bg-line">
          {said.data?.map(m => (
            <MessageRow key={m.id} message={m} />
          ))}
        </ul>
      </section>
    </div>
  );
}
