import { useEffect, useState } from 'react';
import { SHEET_HEIGHT, SHEET_WIDTH } from '@ecoute/core/takes/ink';

/** A picture that is very long or very flat is drawn into these, in units of the sheet. */
const [FLATTEST, TALLEST] = [250, 2_500];

/** How high a sheet is over a picture, once the picture is here; null until then. @param url null for an empty one */
export function useSheetHeight(url: string | null): number | null {
  const [found, setFound] = useState<{ url: string; height: number } | null>(null);
  useEffect(() => {
    if (!url) return;
    let current = true;
    const picture = new Image();
    const is = (height: number) => current && setFound({ url, height });
    picture.onload = () =>
      is(
        Math.min(
          TALLEST,
          Math.max(
            FLATTEST,
            Math.round((SHEET_WIDTH * picture.naturalHeight) / Math.max(1, picture.naturalWidth)),
          ),
        ),
      );
    // Without its picture it is drawn on all the same.
    picture.onerror = () => is(SHEET_HEIGHT);
    picture.src = url;
    return () => {
      current = false;
    };
  }, [url]);
  if (!url) return SHEET_HEIGHT;
  return found?.url === url ? found.height : null;
}
