// Pictures, sounds and films beside a question and its codes.
import { createContext, useContext } from 'react';

/** A file as it is shown: where it is had from, what it is, what it shows in words. */
export interface ShownFile {
  url: string;
  type: string;
  said: string;
}

/** The files of a release by name and language, as `media_of_release` in core/media gives them. */
export type ReleaseMedia = Record<
  string,
  Record<string, { hash: string; type: string; bytes: number; said: Record<string, string> }>
>;

export type LookUp = (name: string) => ShownFile | null;

/** The way from a name to a file, in the interview's language; where there is none nothing is shown. */
export const MediaContext = createContext<LookUp>(() => null);

/** A way that goes by a release; `urlOf` says where a file of that hash is had, null while it is not here. */
export const lookUpIn =
  (media: ReleaseMedia, language: string, first: string, urlOf: (hash: string) => string | null): LookUp =>
  (name) => {
    const file = media[name]?.[language] ?? media[name]?.[first];
    const url = file ? urlOf(file.hash) : null;
    return file && url !== null ? { url, type: file.type, said: file.said[language] ?? file.said[first] ?? '' } : null;
  };

/** What stands beside a wording, one below the other. */
export function MediaBeside({ names }: { names: string[] }) {
  const lookUp = useContext(MediaContext);
  const shown = names.flatMap((name) => {
    const file = lookUp(name);
    return file ? [{ name, file }] : [];
  });
  if (shown.length === 0) return null;
  return (
    <div className="media-beside">
      {shown.map(({ name, file }) => (
        <MediaShown key={name} file={file} />
      ))}
    </div>
  );
}

export function MediaShown({ file }: { file: ShownFile }) {
  if (file.type.startsWith('image/')) return <img src={file.url} alt={file.said} />;
  const label = file.said === '' ? undefined : file.said;
  // What is said or shown is written beside it, in the wording; spoken words need no caption of the same words.
  if (file.type.startsWith('video/'))
    // eslint-disable-next-line jsx-a11y/media-has-caption
    return <video src={file.url} controls playsInline preload="metadata" aria-label={label} />;
  // eslint-disable-next-line jsx-a11y/media-has-caption
  return <audio src={file.url} controls preload="metadata" aria-label={label} />;
}

/** The picture of a code, small; its label is beside it. */
export function CodePicture({ names }: { names: string[] }) {
  const lookUp = useContext(MediaContext);
  const file = names.map(lookUp).find((found) => found?.type.startsWith('image/'));
  return file ? <img className="code-picture" src={file.url} alt="" /> : null;
}
