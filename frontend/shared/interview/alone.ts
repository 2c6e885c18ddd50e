// One interview is filled in one place at a time: two tabs on it would overwrite each other's answers.

const NAME = 'skavo-interview:';

/** Hold an interview for this page; null where another tab has it. Call what is returned to let it go. */
export function holdInterview(uuid: string): Promise<(() => void) | null> {
  if (!('locks' in navigator)) return Promise.resolve(() => undefined);
  return new Promise((resolve, reject) => {
    navigator.locks
      .request(NAME + uuid, { ifAvailable: true }, (lock) => {
        if (lock === null) {
          resolve(null);
          return undefined;
        }
        return new Promise<void>((letGo) => {
          resolve(() => {
            letGo();
          });
        });
      })
      .catch(reject);
  });
}

/** How many interviews are open, in any tab. */
export async function openInterviews(): Promise<number> {
  if (!('locks' in navigator)) return 0;
  const { held } = await navigator.locks.query();
  return (held ?? []).filter((lock) => lock.name?.startsWith(NAME) === true).length;
}
