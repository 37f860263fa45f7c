import { lazy, Suspense, useEffect, useState, type ComponentType, type ReactNode } from 'react';
import { useMatches } from 'react-router';
import { Loading } from './Loading';

/** How the page of a route is fetched before it is shown, and whether that is done. */
export interface Fetched {
  fetch: () => Promise<unknown>;
  isThere: () => boolean;
}

/**
 * A page in its own bundle: students do not load the teachers' half.
 * @returns of a route: what it shows, and how that is fetched before it is shown
 */
export function page<K extends string>(
  load: () => Promise<Record<K, ComponentType>>,
  name: K,
): { element: ReactNode; handle: Fetched } {
  let known: ComponentType | null = null;
  const fetch = async () => {
    const Page = (await load())[name] as ComponentType;
    known = Page;
    return { default: Page };
  };
  const Late = lazy(fetch);
  function Page() {
    // As it was when this was shown first: a page that was waited for is not begun again.
    const [Known] = useState(() => known);
    return Known ? <Known /> : <Late />;
  }
  // The same boundary at the same place for every page: one that is there already keeps the page before in it until the next is
  // there, where a new one would show that it loads.
  const element = (
    <Suspense fallback={<Loading />}>
      <Page />
    </Suspense>
  );
  return { element, handle: { fetch, isThere: () => known !== null } };
}

/**
 * Fetches a page at once. Whoever shows it sooner shows first that it loads, and that for a third of a second longer than it
 * does: React lets nothing take the place of a fallback any sooner.
 * @param page none where there is nothing to fetch
 * @returns whether it is there, or cannot be had, which it says itself where it is shown
 */
export function useFetched(page: Fetched | undefined): boolean {
  const [isThere, setIsThere] = useState(!page || page.isThere());
  useEffect(() => {
    if (isThere) return;
    let isGone = false;
    void page
      ?.fetch()
      .catch(() => undefined)
      .then(() => isGone || setIsThere(true));
    return () => {
      isGone = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the first alone: later the page before it stays until it is there
  }, []);
  return isThere;
}

/** The same for the page of the address that somebody comes to. */
export function useFirstPage(): boolean {
  return useFetched(useMatches().at(-1)?.handle as Fetched | undefined);
}
