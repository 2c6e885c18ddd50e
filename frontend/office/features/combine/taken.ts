// What columns of an outside table are called once they are taken over.

const NAME = /^[a-z][a-z0-9_]{0,31}$/;

/** The names of the columns taken: those said stay, the others are called as is suggested, two alike by number. */
export function calledAs(
  take: string[],
  said: Record<string, string>,
  suggested: Record<string, string>,
): Record<string, string> {
  const called: Record<string, string> = {};
  const given = new Set(take.flatMap((column) => said[column] ?? []));
  for (const column of take) {
    const name = said[column] ?? free(suggested[column] ?? column, given);
    given.add(name);
    called[column] = name;
  }
  return called;
}

function free(wanted: string, given: Set<string>): string {
  let name = wanted;
  for (let number = 2; given.has(name); number += 1) {
    const tail = `_${String(number)}`;
    name = `${wanted.slice(0, 32 - tail.length)}${tail}`;
  }
  return name;
}

/** The columns whose name no variable can have, or that two have. */
export function wrongIn(called: Record<string, string>): string[] {
  const names = Object.values(called);
  return Object.keys(called).filter(
    (column) => !NAME.test(called[column] ?? '') || names.filter((name) => name === called[column]).length > 1,
  );
}
