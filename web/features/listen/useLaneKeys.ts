import { useEffect, useRef } from 'react';

/** What the keys of the lanes do; single letters in lower case. */
export type LaneKeys = Record<string, (event: KeyboardEvent) => void>;

/** Keys belong to the lanes unless somebody types, chooses or presses something. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    target.closest('input:not([type=checkbox]), textarea, select, [role=dialog], [role=menu]') !== null
  );
}

/**
 * The keyboard of the lanes.
 * @param keys   by key; `finish` is Enter, also with Ctrl from inside any field
 * @param digit  a digit, and whether it follows another one soon enough to join it
 * @param speaks held down from the first to the second
 */
export function useLaneKeys({
  keys,
  finish,
  digit,
  speaks,
}: {
  keys: LaneKeys;
  finish: () => void;
  digit: (digit: string, joins: boolean, event: KeyboardEvent) => void;
  speaks: [begin: () => void, end: () => void];
}): void {
  const latest = useRef({ keys, finish, digit, speaks });
  useEffect(() => {
    latest.current = { keys, finish, digit, speaks };
  });
  useEffect(() => {
    let lastDigit = 0;
    let held = false;
    /** True while somebody goes about by Tab or a screen reader: then a button under the focus keeps Enter and Space. */
    let tabbed = false;
    let pressing = false;
    const onPointer = () => {
      tabbed = false;
      pressing = true;
    };
    const onReleased = () => (pressing = false);
    const onFocus = () => {
      if (!pressing) tabbed = true;
    };
    // After a click on a button that arrows move between, arrows belong to the lanes all the same.
    const onArrow = (event: KeyboardEvent) => {
      if (tabbed || !/^Arrow/.test(event.key) || !(event.target instanceof HTMLElement)) return;
      if (!event.target.matches('[role=radio], [role=tab]') || isTyping(event.target)) return;
      event.stopPropagation();
      onKey(event);
    };
    const onKey = (event: KeyboardEvent) => {
      const { keys: now, finish: end, digit: give, speaks: voice } = latest.current;
      if (event.key === 'Tab') tabbed = true;
      if (event.defaultPrevented) return;
      // Held down, a key that finishes would finish one answer after the other.
      if (event.repeat && !isTyping(event.target) && /^(\d|Enter)$/.test(event.key)) {
        event.preventDefault();
        return;
      }
      if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault();
        end();
        return;
      }
      if (
        event.key === 'Escape' &&
        event.target instanceof HTMLElement &&
        event.target.matches('input, textarea')
      ) {
        event.target.blur();
        return;
      }
      const finishes =
        event.target instanceof HTMLInputElement &&
        (event.target.inputMode === 'decimal' || 'finishes' in event.target.dataset);
      if (event.key === 'Enter' && finishes) {
        event.preventDefault();
        (event.target as HTMLElement).blur();
        end();
        return;
      }
      if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      // Reached by Tab, a button keeps its own Enter and Space; after a click the keys belong to the lanes again.
      const button =
        event.target instanceof HTMLElement ? event.target.closest('button, a, [type=checkbox]') : null;
      const onButton = tabbed && button !== null;
      // By its place: with Shift a digit is another sign on every keyboard.
      const placed = /^Digit([0-9])$/.exec(event.code);
      const number = /^[0-9]$/.test(event.key) ? event.key : event.shiftKey && placed ? placed[1]! : null;
      if (number !== null) {
        const at = performance.now();
        give(number, at - lastDigit < 1_500, event);
        lastDigit = at;
        event.preventDefault();
        return;
      }
      if (onButton && (event.key === 'Enter' || event.key === ' ')) return;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if (key === 'Enter') {
        event.preventDefault();
        end();
      } else if (key === 'v') {
        event.preventDefault();
        // Held down, a key says so again and again.
        if (!event.repeat) voice[0]();
        held = true;
      } else if (now[key]) {
        event.preventDefault();
        now[key](event);
      }
    };
    const onKeyUp = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== 'v' || !held) return;
      held = false;
      latest.current.speaks[1]();
    };
    const all = [
      ['keyup', onKeyUp],
      ['keydown', onKey],
      ['pointerdown', onPointer],
      ['pointerup', onReleased],
      ['pointercancel', onReleased],
      ['focusin', onFocus],
    ] as const;
    for (const [type, listener] of all) window.addEventListener(type, listener as EventListener);
    window.addEventListener('keydown', onArrow, { capture: true });
    return () => {
      window.removeEventListener('keydown', onArrow, { capture: true });
      for (const [type, listener] of all) window.removeEventListener(type, listener as EventListener);
    };
  }, []);
}
