import { useOutletContext } from 'react-router';
import type { Me } from '@ecoute/contract/people';

/** Who is signed in; only inside the shell. */
export function useMe(): Me {
  return useOutletContext<Me>();
}
