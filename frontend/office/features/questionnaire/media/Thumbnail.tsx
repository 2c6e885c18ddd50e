import { contentOf, sortOf, type ShelfFile } from './useShelf';

/** A file as small as a card: the picture itself, a sign for what has to be played. */
export function Thumbnail({ file }: { file: ShelfFile }) {
  const sort = sortOf(file);
  if (sort === 'picture')
    return <img className="thumbnail" src={contentOf(file)} alt={Object.values(file.said)[0] ?? ''} />;
  return (
    <span className={`thumbnail ${sort}`} aria-hidden>
      {sort === 'film' ? '▷' : '♪'}
    </span>
  );
}
