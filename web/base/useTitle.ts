import { useEffect } from 'react';

/** The page's title in the browser's tab. */
export function useTitle(title: string): void {
  useEffect(() => {
    document.title = `${title} · Ecoute`;
  }, [title]);
}
