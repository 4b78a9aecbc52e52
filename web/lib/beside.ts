/** Where something that floats stands: below what it belongs to, or above where there is more room. */
export function beside(anchor: { left: number; top: number; bottom: number }, width: number): Record<string, string> {
  const gap = 4;
  const margin = 8;
  const below = window.innerHeight - anchor.bottom - gap - margin;
  const above = anchor.top - gap - margin;
  const left = Math.max(margin, Math.min(anchor.left, window.innerWidth - width - margin));
  return {
    position: 'fixed',
    left: `${left}px`,
    width: `${width}px`,
    overflowY: 'auto',
    ...(below >= Math.min(320, above)
      ? { top: `${anchor.bottom + gap}px`, maxHeight: `${below}px` }
      : { bottom: `${window.innerHeight - anchor.top + gap}px`, maxHeight: `${above}px` }),
  };
}
