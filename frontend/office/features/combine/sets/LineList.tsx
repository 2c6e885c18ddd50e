// The lines of one part of a recipe: each with what is wrong in it and a way to remove it, and ways to add one.
import { Button } from 'antd';
import type { ReactNode } from 'react';
import { placeOf, put, without, type Recipe, type Wrong } from './recipe';

type Part = 'derived' | 'left_out' | 'turned';
type LineOf<P extends Part> = Recipe[P][number];

interface Props<P extends Part> {
  part: P;
  head: string;
  recipe: Recipe;
  wrong: Wrong | null;
  onChange: (change: (recipe: Recipe) => Recipe) => void;
  /** What removing the line of a number is called. */
  remove: (number: number) => string;
  adds: { label: string; line: LineOf<P> }[];
  children: (line: LineOf<P>, write: (line: LineOf<P>) => void) => ReactNode;
}

export function LineList<P extends Part>({ part, head, recipe, wrong, onChange, remove, adds, children }: Props<P>) {
  const lines = recipe[part] as LineOf<P>[];
  const bad = placeOf(recipe, wrong, part);
  const change = (next: (now: LineOf<P>[]) => LineOf<P>[]) => {
    onChange((now) => ({ ...now, [part]: next(now[part]) }));
  };
  return (
    <section>
      <h3>{head}</h3>
      {lines.map((line, at) => (
        <div className="set-line" key={at}>
          <div className="row">
            {children(line, (next) => {
              change((now) => put(now, at, next));
            })}
            <Button
              size="small"
              type="text"
              aria-label={remove(at + 1)}
              onClick={() => {
                change((now) => without(now, at));
              }}
            >
              ×
            </Button>
          </div>
          {bad === at && <p className="bad small">{wrong?.words}</p>}
        </div>
      ))}
      <div className="row">
        {adds.map(({ label, line }) => (
          <Button
            key={label}
            size="small"
            onClick={() => {
              change((now) => [...now, line]);
            }}
          >
            {label}
          </Button>
        ))}
      </div>
    </section>
  );
}
