// Typing along a mask: A is a letter, 9 a digit, * either; what else stands in it is put by itself.

const PLACES: Record<string, RegExp> = { A: /\p{L}/u, '9': /\d/, '*': /[\p{L}\d]/u };

/** What was typed with the mask's fixed characters in their places; a letter where the mask has A becomes a capital.
 * Where a character fits nowhere, and in masks with optional ones, the text stays as it was typed. */
export function fitMask(mask: string, typed: string, before: string): string {
  if (mask === '' || mask.includes('?')) return typed;
  const grows = typed.length > before.length;
  const signs = Array.from(typed);
  let fitted = '';
  for (const place of mask) {
    // Who types a fixed character that stands there already goes on behind it.
    if (
      PLACES[place] !== undefined &&
      signs[0] !== undefined &&
      !PLACES[place].test(signs[0]) &&
      fitted.endsWith(signs[0])
    )
      signs.shift();
    const sign = signs[0];
    const kind = PLACES[place];
    if (kind === undefined) {
      if (sign === place) signs.shift();
      // Behind the last sign a fixed one is put while the text grows, so that it can be deleted again.
      else if (sign === undefined && !grows) break;
      fitted += place;
    } else if (sign === undefined) break;
    else if (kind.test(sign)) {
      fitted += place === 'A' ? sign.toUpperCase() : sign;
      signs.shift();
    } else return typed;
  }
  return fitted + signs.join('');
}

/** Whether a text looks as a mask says; a sign before a question mark may be left out. */
export function fits(mask: string, text: string): boolean {
  const pattern = Array.from(mask).reduce((built, place, at, all) => {
    if (place === '?' && at > 0) return `${built}?`;
    const kind = PLACES[place]?.source ?? place.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&');
    return `${built}${all[at + 1] === '?' ? `(?:${kind})` : kind}`;
  }, '');
  return new RegExp(`^${pattern}$`, 'u').test(text);
}
