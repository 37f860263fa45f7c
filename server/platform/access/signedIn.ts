import type { Request } from 'express';
import type { Me } from '@ecoute/contract/people';
import { Trouble } from '../trouble';

/** The person of a request. @throws Trouble `notSignedIn` */
export function signedIn(req: Request): Me {
  const me = req.session?.me;
  if (!me)
    throw new Trouble(
      'notSignedIn',
      'You are signed out. Sign in again; what you recorded on this device is still here.',
    );
  return me;
}
