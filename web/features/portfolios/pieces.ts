import type { PortfolioPiece, PortfolioTake } from '@ecoute/contract/portfolios';
import { locale } from '../../base/i18n';

/** A recording as it comes into a portfolio; a picture that lies beside it comes along. */
export function pieceOf(takeId: string, pictureId: string | null = null): PortfolioPiece {
  return {
    id: crypto.randomUUID(),
    takeId,
    title: '',
    words: '',
    pictureId,
    pictureWords: '',
    voiceId: null,
  };
}

/** The pieces with one of them one place further up (-1) or down (1); at the end it stays. */
export function moved(pieces: readonly PortfolioPiece[], id: string, by: number): PortfolioPiece[] {
  const from = pieces.findIndex(p => p.id === id);
  const to = from + by;
  if (from < 0 || to < 0 || to >= pieces.length) return [...pieces];
  const next = [...pieces];
  next.splice(to, 0, ...next.splice(from, 1));
  return next;
}

/** Puts a piece that was taken out back where it was, among those that are there now. */
export function putBack(
  pieces: readonly PortfolioPiece[],
  piece: PortfolioPiece,
  place: number,
): PortfolioPiece[] {
  if (pieces.some(p => p.id === piece.id)) return [...pieces];
  const next = [...pieces];
  next.splice(Math.min(place, next.length), 0, piece);
  return next;
}

/** What a piece is called where its student has not named it. */
export const titleOf = (piece: PortfolioPiece, take: PortfolioTake | undefined): string =>
  piece.title.trim() || (take?.assessment ?? '');

export const dayOf = (iso: string): string =>
  new Intl.DateTimeFormat(locale(), { day: 'numeric', month: 'long', year: 'numeric' }).format(new Date(iso));
