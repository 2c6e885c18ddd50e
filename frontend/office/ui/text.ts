/** A value of unknown shape as text; nothing for what is neither text nor number. */
export const text = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : '';
