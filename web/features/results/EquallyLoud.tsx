import { t } from '../../base/i18n';
import { useMatchedLevels } from '../../parts/player/useMatchedLevels';
import { Tick } from '../../parts/Tick';

/** Recordings that are held against each other sound equally loud, unless somebody says otherwise. */
export function EquallyLoud() {
  const [matches, setMatches] = useMatchedLevels();
  return (
    <Tick checked={matches} onChange={setMatches}>
      {t('equally loud')}
    </Tick>
  );
}
