/**
 * Signing in before the rest of the script is here: on a slow line that is three seconds. It knows no package, so that it is small;
 * the page that comes takes over what was typed.
 */
import type { TroubleBody } from '@ecoute/contract/trouble';
import { PORCH, PORCH_IDLE } from '../../base/porch';
import { AWAY } from '../../base/refusal';

function furnish(form: HTMLFormElement): void {
  const words = JSON.parse(form.dataset.words ?? '{}') as Record<string, string>;
  const told = form.querySelector<HTMLElement>('[data-told]')!;
  const button = form.querySelector('button')!;
  const say = (message: string) => {
    told.textContent = message && (words[message] ?? message);
    told.closest<HTMLElement>('[hidden], [data-shown]')!.hidden = message === '';
  };
  told.closest<HTMLElement>('[hidden]')!.dataset.shown = '';
  const signIn = async () => {
    const { signInName, password } = Object.fromEntries(new FormData(form));
    try {
      const answer = await fetch('/api/session', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ signInName, password }),
      });
      // To what was asked for, as somebody who is in.
      if (answer.ok) return location.replace(location.pathname === '/sign-in' ? '/' : location.href);
      say(((await answer.json()) as TroubleBody).message);
    } catch {
      say(AWAY);
    }
    delete form.dataset.busy;
    button.disabled = false;
    document.dispatchEvent(new Event(PORCH_IDLE));
  };
  form.addEventListener('submit', event => {
    event.preventDefault();
    if (form.dataset.busy !== undefined) return;
    form.dataset.busy = '';
    button.disabled = true;
    say('');
    void signIn();
  });
  button.disabled = false;
  form.dataset.ready = '';
}

for (const element of document.querySelectorAll<HTMLElement>(`#${PORCH} [data-style]`))
  element.style.cssText = element.dataset.style!;
const form = document.querySelector<HTMLFormElement>(`#${PORCH} form`);
if (form) furnish(form);
