// What follows from a keystroke may come a frame later than the letter itself: the field shows what was typed at once, and
// whatever is made of it is made while nobody waits.

const waiting = new Set<() => void>();

/** Does at once what is still to be done after the next frame, wherever that was asked for. */
export function settleTyping(): void {
  for (const flush of [...waiting]) flush();
}

/** Whatever else a person does than type finds all done: another step chosen, a button, undo. */
function settleBeforeOthers(): void {
  if (listening) return;
  listening = true;
  for (const event of ['pointerdown', 'focusout', 'beforeunload', 'visibilitychange'])
    window.addEventListener(event, settleTyping, { capture: true });
  window.addEventListener(
    'keydown',
    ({ key, ctrlKey, metaKey, altKey }) => {
      const types = (key.length === 1 && !ctrlKey && !metaKey && !altKey) || key === 'Backspace' || key === 'Delete';
      if (!types) settleTyping();
    },
    { capture: true },
  );
}
let listening = false;

/** How long at most: a page that nobody sees has no frames. */
const LATEST = 100;

/** One thing to be done after the next frame is on the screen; what is asked for later takes its place. */
export function afterPaint(): { soon(then: () => void): void; flush(): void } {
  let next: (() => void) | undefined;
  let frame = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const flush = () => {
    cancelAnimationFrame(frame);
    clearTimeout(timer);
    waiting.delete(flush);
    const then = next;
    next = undefined;
    then?.();
  };
  return {
    soon(then) {
      const asked = next !== undefined;
      next = then;
      if (asked) return;
      settleBeforeOthers();
      waiting.add(flush);
      timer = setTimeout(flush, LATEST);
      // A timer that is set in a frame comes after it has been painted.
      frame = requestAnimationFrame(() => {
        clearTimeout(timer);
        timer = setTimeout(flush);
      });
    },
    flush,
  };
}
