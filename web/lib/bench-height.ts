// How high the bench is: dragged or moved by keys, and remembered in this browser.
import { ref } from 'vue';

const KEY = 'playa.bench';
/** CSS pixels. */
const USUAL = 312;
const LEAST = 140;
/** What is left for the sheet above it. */
const SHEET = 260;

export function useBenchHeight() {
  const height = ref(Number(localStorage.getItem(KEY)) || USUAL);
  const set = (to: number) => (height.value = Math.max(LEAST, Math.min(window.innerHeight - SHEET, to)));
  const remember = () => localStorage.setItem(KEY, String(height.value));

  /** The edge of the bench is dragged. */
  function startResize(event: PointerEvent): void {
    const from = event.clientY;
    const before = height.value;
    const move = (at: PointerEvent) => set(before + from - at.clientY);
    const end = () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', end);
      remember();
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', end);
  }
  /** Arrow keys on the edge. */
  function onResizeKey(event: KeyboardEvent): void {
    if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
    event.preventDefault();
    set(height.value + (event.key === 'ArrowUp' ? 24 : -24));
    remember();
  }
  return { height, startResize, onResizeKey };
}
