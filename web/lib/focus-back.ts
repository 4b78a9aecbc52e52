// The focus goes back to where it came from.
import { nextTick, onUnmounted } from 'vue';

/** Where the focus is, as far as it will still be there later: of a menu, which closes, the button that opens it. */
function focusedNow(): HTMLElement | null {
  const { activeElement } = document;
  const opener = activeElement?.closest('[role="menu"]')?.getAttribute('aria-labelledby');
  const lasting = (opener && document.getElementById(opener)) || activeElement;
  return lasting instanceof HTMLElement && lasting !== document.body ? lasting : null;
}

/**
 * For what comes over a page and goes again, such as a dialog: when it is gone, the focus is where it was before, unless
 * somebody has put it elsewhere (WAI-ARIA Authoring Practices Guide, Dialog (Modal) Pattern, keyboard interaction).
 */
export function useFocusBack(): void {
  const before = focusedNow();
  onUnmounted(async () => {
    await nextTick();
    const { activeElement } = document;
    if (before?.isConnected && (activeElement === null || activeElement === document.body)) before.focus();
  });
}
