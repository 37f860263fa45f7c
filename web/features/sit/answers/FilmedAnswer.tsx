import { MonitorUp, Video } from 'lucide-react';
import { useEffect, useState, type ComponentProps, type ReactNode } from 'react';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { filmTrouble, openFilm, type FilmSource } from '../../../parts/recorder/camera';
import { SpokenAnswer } from './SpokenAnswer';
import { t } from '../../../base/i18n';

/** An answer on camera, or from the screen: the picture is opened first, then it goes as with a spoken one. */
export function FilmedAnswer(props: Omit<ComponentProps<typeof SpokenAnswer>, 'film'>): ReactNode {
  const { item, microphone, frame } = props;
  const seen = item.answerBy === 'screen' ? 'screen' : 'camera';
  const [film, setFilm] = useState<FilmSource | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => () => film?.close(), [film]);
  useEffect(() => {
    // Taken away from outside (the browser's own bar): it has to be opened anew for another take.
    const track = film?.stream.getVideoTracks()[0];
    const ended = () => setFilm(null);
    track?.addEventListener('ended', ended);
    return () => track?.removeEventListener('ended', ended);
  }, [film]);

  if (film) return <SpokenAnswer {...props} film={film} />;
  const open = async () => {
    setTrouble(null);
    try {
      setFilm(await openFilm(seen, microphone.stream));
    } catch (error) {
      setTrouble(filmTrouble(error, seen));
    }
  };
  return frame({
    phase: 'ready',
    says: t('What to do now'),
    busy: false,
    done: false,
    position: 0,
    answer: (
      <>
        {trouble && <Notice kind="trouble">{trouble}</Notice>}
        <Button look="main" big onClick={() => void open()}>
          {seen === 'camera' ? (
            <>
              <Video aria-hidden className="size-6" /> {t('Open the camera')}
            </>
          ) : (
            <>
              <MonitorUp aria-hidden className="size-6" /> {t('Choose what to show')}
            </>
          )}
        </Button>
        <p className="text-soft">
          {seen === 'camera'
            ? t('You see yourself first. Nothing is recorded yet.')
            : t(
                'Your browser asks which window or screen. Nothing is recorded yet. Close what is nobody’s business.',
              )}
        </p>
      </>
    ),
  });
}
