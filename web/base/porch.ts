/** What stands on the page before its script is here: the form to sign in, written by the server, with a script of its own. */
export interface Typed {
  signInName: string;
  password: string;
  /** What was refused, in the language of the screen. */
  told: string;
  /** Where somebody types; null where nobody does. */
  focus: { name: string; from: number; to: number } | null;
}

export const PORCH = 'porch';
/** Said on the document when the porch waits for no answer any more. */
export const PORCH_IDLE = 'porch-idle';

export const NOTHING_TYPED: Typed = { signInName: '', password: '', told: '', focus: null };

function typedInto(porch: HTMLElement): Typed {
  const valueOf = (name: string) => porch.querySelector<HTMLInputElement>(`[name=${name}]`)?.value ?? '';
  const at = document.activeElement;
  return {
    signInName: valueOf('signInName'),
    password: valueOf('password'),
    told: porch.querySelector('[data-told]')?.textContent ?? '',
    focus:
      at instanceof HTMLInputElement && porch.contains(at)
        ? { name: at.name, from: at.selectionStart ?? 0, to: at.selectionEnd ?? 0 }
        : null,
  };
}

/**
 * Takes the porch away, once it waits for nothing: what is behind it is seen from then on.
 * @param then told what was typed into it; null, at once, where there is none
 * @returns ends the waiting
 */
export function takePorch(then: (typed: Typed | null) => void): () => void {
  const porch = document.getElementById(PORCH);
  const take = () => {
    const typed = porch && typedInto(porch);
    porch?.remove();
    then(typed);
  };
  if (!porch?.querySelector('[data-busy]')) {
    take();
    return () => undefined;
  }
  document.addEventListener(PORCH_IDLE, take, { once: true });
  return () => document.removeEventListener(PORCH_IDLE, take);
}
