/** "6:10", "1:02:03": a length as players show it. Seconds are rounded down. */
export function clockLength(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  const s = String(whole % 60).padStart(2, '0');
  const minutes = Math.floor(whole / 60);
  if (minutes < 60) return `${minutes}:${s}`;
  return `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')}:${s}`;
}

/** "2 min", "1 h 30 min", "45 s": a length as people say it. */
export function spokenLength(seconds: number): string {
  const whole = Math.round(seconds);
  const parts = [
    [Math.floor(whole / 86_400), 'd'],
    [Math.floor((whole % 86_400) / 3600), 'h'],
    [Math.floor((whole % 3600) / 60), 'min'],
    [whole % 60, 's'],
  ] as const;
  const said = parts.filter(([amount]) => amount > 0).map(([amount, unit]) => `${amount} ${unit}`);
  return said.join(' ') || '0 s';
}

/**
 * Reads a length as a person types it, in seconds: "2 min", "1:30", "1 h 30", "90s", "2" (minutes).
 *
 * @returns undefined when it cannot be read
 */
export function readLength(text: string): number | undefined {
  const trimmed = text.trim().toLowerCase().replace(',', '.');
  const clock = /^(?:(\d+):)?(\d+):(\d\d)$/.exec(trimmed);
  if (clock) return Number(clock[1] ?? 0) * 3600 + Number(clock[2]) * 60 + Number(clock[3]);
  if (/^\d+(\.\d+)?$/.test(trimmed)) return Number(trimmed) * 60;
  let seconds = 0;
  let last = '';
  const rest = trimmed.replace(
    /(\d+(?:\.\d+)?)\s*(days?|d|hours?|hrs?|h|minutes?|mins?|m|seconds?|secs?|s)?\s*/g,
    (_, n, unit) => {
      const kind = unit?.[0] ?? (last === 'h' ? 'm' : last === 'm' ? 's' : 'x');
      seconds += Number(n) * ({ d: 86_400, h: 3600, m: 60, s: 1 }[kind as 'd'] ?? NaN);
      last = kind;
      return '';
    },
  );
  return rest === '' && last !== '' && Number.isFinite(seconds) ? seconds : undefined;
}
