import { useState } from 'react';
import { useMe } from '../../base/useMe';
import { Loading } from '../../parts/Loading';
import { lazyPart } from '../../parts/lazyPart';
import { page, useFetched } from '../../parts/page';
import { useSessionQuery } from '../signIn/endpoints';
import { TodoPage } from '../sit/lists/TodoPage';

/** Fetched after the page itself: seldom is there one. */
const Invitations = lazyPart<object>(() =>
  import('../../parts/Invitations').then(m => ({ default: m.Invitations })),
);

/** What teachers have said to a student. */
const ToldMe = lazyPart<object>(() => import('../messages/ToldMe'));

/** Students do not fetch the teachers' half. */
const teachersHalf = page(() => import('./TeacherHome'), 'TeacherHome');

function TeacherHome() {
  return useFetched(teachersHalf.handle) ? teachersHalf.element : <Loading />;
}

/** For whoever does not read yet. */
const ChildNow = lazyPart<{ onWords: () => void }>(() => import('../sit/child/ChildNow'), {
  waiting: <Loading />,
  missing: () => <TodoPage />,
});

/** The first page: what matters to whoever has signed in. */
export function HomePage() {
  const me = useMe();
  const isByEar = useSessionQuery().data?.byEar ?? false;
  const [inWords, setInWords] = useState(false);
  if (isByEar && !inWords) return <ChildNow onWords={() => setInWords(true)} />;
  return (
    <>
      {!me.isGuest && <Invitations />}
      {me.role === 'teacher' ? <TeacherHome /> : <TodoPage>{!me.isGuest && <ToldMe />}</TodoPage>}
    </>
  );
}
