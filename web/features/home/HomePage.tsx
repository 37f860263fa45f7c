import { lazy, Suspense } from 'react';
import { useMe } from '../../base/useMe';
import { Invitations } from '../../parts/Invitations';
import { Loading } from '../../parts/Loading';
import { TodoPage } from '../sit/lists/TodoPage';

/** Students do not fetch the teachers' half. */
const TeacherHome = lazy(() => import('./TeacherHome').then(m => ({ default: m.TeacherHome })));

/** The first page: what matters to whoever has signed in. */
export function HomePage() {
  const me = useMe();
  return (
    <>
      {!me.isGuest && <Invitations />}
      {me.role === 'teacher' ? (
        <Suspense fallback={<Loading />}>
          <TeacherHome />
        </Suspense>
      ) : (
        <TodoPage />
      )}
    </>
  );
}
