import { Ear, QrCode, UserRound } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { refusalOf } from '../../base/api';
import { screenLanguage, t } from '../../base/i18n';
import { useTitle } from '../../base/useTitle';
import { Loading } from '../../parts/Loading';
import { useSlipSignInMutation } from './endpoints';

/** Where a slip's picture code leads: in, or to a grown-up who is told why not. */
export function SlipPage() {
  useTitle(t('Sign in'));
  const navigate = useNavigate();
  const [signIn, { error }] = useSlipSignInMutation();
  // What stands behind the # is read once, and is gone from the address before anybody else looks at it.
  const token = useRef(window.location.hash.slice(1));
  const [isBare] = useState(token.current === '');
  const asked = useRef(false);
  useEffect(() => {
    if (asked.current || isBare) return;
    asked.current = true;
    history.replaceState(history.state, '', '/in');
    void signIn({ token: token.current })
      .unwrap()
      .then(
        () => navigate('/', { replace: true }),
        () => undefined,
      );
  }, [isBare, navigate, signIn]);
  const refusal = refusalOf(error);
  if (!isBare && !refusal)
    return (
      <main className="p-6">
        <Loading />
      </main>
    );
  return (
    <main className="mx-auto grid min-h-[80dvh] max-w-xl content-center justify-items-center gap-5 px-5 py-10 text-center">
      {isBare ? (
        <QrCode aria-hidden className="size-32 text-soft" />
      ) : (
        <UserRound aria-hidden className="size-32 text-soft" />
      )}
      <h1 className="text-2xl">
        {isBare ? t('Hold the camera of this device over your slip.') : t(refusal!.message)}
      </h1>
      {refusal && (
        <button
          type="button"
          aria-label={t('Hear it')}
          onClick={() =>
            void new Audio(`/api/spoken-words/${screenLanguage()}-help`).play().catch(() => undefined)
          }
          className="grid size-20 place-items-center rounded-full border-4 border-saffron bg-saffron-wash text-saffron-ink"
        >
          <Ear aria-hidden className="size-10" />
        </button>
      )}
      <Link to="/sign-in" className="inline-flex min-h-11 items-center underline underline-offset-4">
        {t('Sign in')}
      </Link>
    </main>
  );
}
