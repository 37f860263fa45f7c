import { useEffect, useSyncExternalStore } from 'react';
import {
  createBrowserRouter,
  isRouteErrorResponse,
  Link,
  Navigate,
  useParams,
  useRouteError,
} from 'react-router';
import { HomePage } from '../features/home/HomePage';
import { useMe } from '../base/useMe';
import { onLanguage, ownLanguage, screenLanguage, setScreenLanguage, t } from '../base/i18n';
import { page } from '../parts/page';
import { Door } from './Door';
import { Shell } from './Shell';

function Lost() {
  const error = useRouteError();
  const missing = isRouteErrorResponse(error) && error.status === 404;
  const language = useSyncExternalStore(onLanguage, screenLanguage);
  useEffect(() => void setScreenLanguage(ownLanguage()).catch(() => undefined), []);
  return (
    <main key={language} className="mx-auto max-w-xl p-8">
      <h1 className="text-2xl">{missing ? t('There is no such page') : t('This page stumbled')}</h1>
      <p className="mt-3">
        {missing
          ? t('The address may be old.')
          : t(
              'What you recorded or wrote is safe. Reload the page; if it happens again, go back to the first page.',
            )}
      </p>
      <p className="mt-5">
        <Link to="/" className="underline underline-offset-4">
          {t('To the first page')}
        </Link>
      </p>
    </main>
  );
}

function OldFeedback() {
  return <Navigate to={`/feedback/${useParams().id}`} replace />;
}

const TakesPart = page(() => import('../features/discussion/DiscussionPage'), 'DiscussionPage');
const Leads = page(() => import('../features/discussion/lead/LeadPage'), 'LeadPage');

/** One address for a discussion, whoever comes: it can be sent to a class as it is. */
function DiscussionDoor() {
  return useMe().role === 'teacher' ? Leads.element : TakesPart.element;
}

export const router = createBrowserRouter([
  {
    element: <Door />,
    errorElement: <Lost />,
    children: [
      { path: '/sign-in', ...page(() => import('../features/signIn/SignInPage'), 'SignInPage') },
      {
        path: '/first',
        ...page(() => import('../features/signIn/FirstSignInPage'), 'FirstSignInPage'),
      },
      { path: '/in', ...page(() => import('../features/signIn/SlipPage'), 'SlipPage') },
      { path: '/g/:code', ...page(() => import('../features/guest/GuestPages'), 'DoorPage') },
      { path: '/back/:token', ...page(() => import('../features/guest/GuestPages'), 'ComeBackPage') },
    ],
  },
  {
    path: '/p',
    ...page(() => import('../features/phone/PhonePage'), 'PhoneShell'),
    errorElement: <Lost />,
    children: [
      { index: true, ...page(() => import('../features/phone/PhonePage'), 'PhonePage') },
      { path: ':code', ...page(() => import('../features/phone/PhonePage'), 'PhonePage') },
    ],
  },
  {
    path: '/',
    element: <Shell />,
    errorElement: <Lost />,
    children: [
      { index: true, element: <HomePage /> },
      { path: 'set', ...page(() => import('../features/set/shelf/SetPage'), 'SetPage') },
      { path: 'set/:id', ...page(() => import('../features/set/EditorPage'), 'EditorPage') },
      {
        path: 'set/:id/rehearsal',
        ...page(() => import('../features/sit/rehearsal/RehearsalPage'), 'RehearsalPage'),
      },
      { path: 'release', ...page(() => import('../features/release/ReleasesPage'), 'ReleasesPage') },
      {
        path: 'release/new',
        ...page(() => import('../features/release/NewReleasePage'), 'NewReleasePage'),
      },
      { path: 'release/:id', ...page(() => import('../features/release/ReleasePage'), 'ReleasePage') },
      { path: 'release/:id/qr/:linkId', ...page(() => import('../features/release/QrPage'), 'QrPage') },
      { path: 'account', ...page(() => import('../features/account/AccountPage'), 'AccountPage') },
      {
        path: 'administration',
        ...page(() => import('../features/administration/AdministrationPage'), 'AdministrationPage'),
      },
      { path: 'mailbox', ...page(() => import('../features/mailbox/MailboxPage'), 'MailboxPage') },
      { path: 'listen', ...page(() => import('../features/listen/QueuePage'), 'QueuePage') },
      {
        path: 'listen/comments',
        ...page(() => import('../features/listen/bank/BankPage'), 'BankPage'),
      },
      { path: 'listen/:id', ...page(() => import('../features/listen/ListenPage'), 'ListenPage') },
      { path: 'results', ...page(() => import('../features/results/ResultsPage'), 'ResultsPage') },
      {
        path: 'results/:id',
        ...page(() => import('../features/results/MarkbookPage'), 'MarkbookPage'),
      },
      {
        path: 'results/:id/can-do',
        ...page(() => import('../features/results/CanDoPage'), 'CanDoPage'),
      },
      {
        path: 'results/:id/before-and-after',
        ...page(() => import('../features/results/ComparedPage'), 'ComparedPage'),
      },
      {
        path: 'results/:id/hand-over',
        ...page(() => import('../features/results/handOver/HandOverPage'), 'HandOverPage'),
      },
      {
        path: 'results/:id/students/:studentId',
        ...page(() => import('../features/results/YearPage'), 'YearPage'),
      },
      {
        path: 'results/:id/students/:studentId/portfolios/:portfolioId',
        ...page(() => import('../features/portfolios/ShownPage'), 'ShownPage'),
      },
      {
        path: 'results/exports',
        ...page(() => import('../features/results/ExportsPage'), 'ExportsPage'),
      },
      {
        path: 'results/releases/:id',
        ...page(() => import('../features/results/NumbersPage'), 'NumbersPage'),
      },
      { path: 'classes', ...page(() => import('../features/classes/ClassesPage'), 'ClassesPage') },
      {
        path: 'classes/list',
        ...page(() => import('../features/classes/ImportPage'), 'BringListPage'),
      },
      { path: 'classes/:id', ...page(() => import('../features/classes/ClassPage'), 'ClassPage') },
      {
        path: 'classes/:id/list',
        ...page(() => import('../features/classes/ImportPage'), 'BringListPage'),
      },
      {
        path: 'classes/:id/codes',
        ...page(() => import('../features/classes/CodesPage'), 'CodesPage'),
      },
      {
        path: 'classes/:id/speak',
        ...page(() => import('../features/messages/SpeakPage'), 'SpeakPage'),
      },
      {
        path: 'classes/:id/slips',
        ...page(() => import('../features/classes/SlipsPage'), 'SlipsPage'),
      },
      { path: 'lists/:id', ...page(() => import('../features/classes/ImportPage'), 'ImportPage') },
      { path: 'sit/:id', ...page(() => import('../features/sit/SitPage'), 'SitPage') },
      { path: 'discussion/:id', element: <DiscussionDoor /> },
      { path: 'others/:id', ...page(() => import('../features/sit/lists/OthersPage'), 'OthersPage') },
      {
        path: 'feedback',
        ...page(() => import('../features/feedback/FeedbackPages'), 'FeedbackListPage'),
      },
      {
        path: 'feedback/:id',
        ...page(() => import('../features/feedback/FeedbackPages'), 'FeedbackPage'),
      },
      // Addresses of before, in mails and bookmarks.
      { path: 'returned', element: <Navigate to="/feedback" replace /> },
      { path: 'returned/:id', element: <OldFeedback /> },
      {
        path: 'recordings',
        ...page(() => import('../features/sit/lists/RecordingsPage'), 'RecordingsPage'),
      },
      {
        path: 'recordings/year',
        ...page(() => import('../features/results/OwnYearPage'), 'OwnYearPage'),
      },
      {
        path: 'recordings/portfolios',
        ...page(() => import('../features/portfolios/PortfoliosPage'), 'PortfoliosPage'),
      },
      {
        path: 'recordings/portfolios/:id',
        ...page(() => import('../features/portfolios/PortfolioPage'), 'PortfolioPage'),
      },
    ],
  },
]);
