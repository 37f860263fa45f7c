import { api } from '../base/api';
import { forgetSaid } from '../base/offline';
import { store } from '../base/store';
import { player } from '../parts/player/usePlayer';
import { desk } from '../parts/recorder/delivery';

/**
 * Nothing of who was signed in stays in this tab: no sound, no list, no answer kept for a visit without a network. What
 * is on its way is theirs, and waits on the device until they are back.
 */
export async function forgetPerson(): Promise<void> {
  player.close();
  store.dispatch(api.util.resetApiState());
  await desk.belongTo(null);
  await forgetSaid();
}
