import { Link, useParams } from 'react-router';
import { clock } from '@ecoute/core/timing/words';
import type { ShownPiece } from '@ecoute/contract/portfolios';
import { useTitle } from '../../base/useTitle';
import { Failed, Loading } from '../../parts/Loading';
import { Film } from '../../parts/player/Film';
import { PlayButton } from '../../parts/player/PlayButton';
import type { Track } from '../../parts/player/player';
import { usePlayed } from '../../parts/player/usePlayer';
import { useShownPortfolioQuery } from './endpoints';
import { dayOf } from './pieces';

function Piece({ piece, portfolioId, place }: { piece: ShownPiece; portfolioId: string; place: number }) {
  const track = (id: string, title: string, durationMs: number | null): Track => ({
    id,
    url: `/api/portfolios/${portfolioId}/sounds/${id}`,
    title,
    voice: 'student',
    durationMs,
  });
  const isPlayed = usePlayed(s => s.track?.id === piece.takeId);
  return (
    <li className="grid gap-3 border-s-6 border-petrol bg-sheet p-4">
      <div className="flex flex-wrap items-center gap-3">
        <PlayButton track={track(piece.takeId, piece.title, piece.durationMs)} label={piece.title} />
        <span className="min-w-0 flex-1">
          <span dir="auto" className="block text-lg font-semibold">
            {place}. {piece.title}
          </span>
          <span className="text-sm text-soft">
            recorded {dayOf(piece.at)}
            {piece.durationMs !== null && ` · ${clock(piece.durationMs)}`}
          </span>
        </span>
      </div>
      {piece.medium === 'video' && isPlayed && (
        <Film id={piece.takeId} label={`What is seen in ${piece.title}`} />
      )}
      {piece.pictureId && (
        <img
          src={`/api/portfolios/${portfolioId}/pictures/${piece.pictureId}`}
          alt={piece.pictureWords}
          loading="lazy"
          className="max-h-80 max-w-full justify-self-start object-contain"
        />
      )}
      {piece.words.trim() && (
        <p dir="auto" className="max-w-prose whitespace-pre-wrap">
          {piece.words}
        </p>
      )}
      {piece.voiceId && (
        <p className="flex items-center gap-3">
          <PlayButton
            track={track(piece.voiceId, `${piece.title}, what they say of it`, piece.voiceMs)}
            label={`what they say of ${piece.title}`}
          />
          <span className="text-sm text-soft">
            what they say of it{piece.voiceMs !== null && `, ${clock(piece.voiceMs)}`}
          </span>
        </p>
      )}
    </li>
  );
}

/** A portfolio that a student shows to their teacher. */
export function ShownPage() {
  const { id: classId, studentId, portfolioId } = useParams();
  const { currentData, error, refetch } = useShownPortfolioQuery(portfolioId!, {
    refetchOnMountOrArgChange: true,
  });
  useTitle(currentData?.title ?? 'Portfolio');
  return (
    <section className="mx-auto max-w-4xl">
      <p className="text-sm">
        <Link to={`/results/${classId}/students/${studentId}`} className="underline underline-offset-4">
          {currentData ? currentData.ownerName : 'Back to the student'}
        </Link>
      </p>
      {currentData ? (
        <>
          <h1 dir="auto" className="text-3xl">
            {currentData.title}
          </h1>
          {currentData.words.trim() && (
            <p dir="auto" className="mt-2 max-w-prose whitespace-pre-wrap">
              {currentData.words}
            </p>
          )}
          {currentData.pieces.length === 0 ? (
            <p className="mt-4 text-soft">There is nothing to hear in it yet.</p>
          ) : (
            <ol className="mt-4 grid gap-3">
              {currentData.pieces.map((piece, i) => (
                <Piece key={piece.id} piece={piece} portfolioId={portfolioId!} place={i + 1} />
              ))}
            </ol>
          )}
        </>
      ) : error ? (
        <Failed error={error} again={() => void refetch()} />
      ) : (
        <Loading />
      )}
    </section>
  );
}
