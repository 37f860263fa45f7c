import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { PortfolioPiece } from '@ecoute/contract/portfolios';
import { AWAY } from '../../base/refusal';
import { refusalOf } from '../../base/api';
import { t } from '../../base/i18n';
import { useLazyPortfolioQuery, useMakePortfolioMutation, useSavePortfolioMutation } from './endpoints';

/** Puts a recording at the end of a portfolio, or into a new one, and goes there. */
export function usePutInto() {
  const [ask] = useLazyPortfolioQuery();
  const [make] = useMakePortfolioMutation();
  const [save] = useSavePortfolioMutation();
  const [isPutting, setPutting] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const navigate = useNavigate();

  /** @param id null for a new one */
  const putInto = async (id: string | null, piece: PortfolioPiece): Promise<void> => {
    setTrouble(null);
    setPutting(true);
    try {
      if (id === null) {
        const made = await make({ title: t('My portfolio'), words: '', pieces: [piece] }).unwrap();
        return void navigate(`/recordings/portfolios/${made.id}`);
      }
      const { revision, content } = await ask(id).unwrap();
      await save({ id, revision, content: { ...content, pieces: [...content.pieces, piece] } }).unwrap();
      void navigate(`/recordings/portfolios/${id}`);
    } catch (error) {
      setTrouble(refusalOf(error)?.message ?? AWAY);
    } finally {
      setPutting(false);
    }
  };
  return { putInto, isPutting, trouble };
}
