// The tree of units: unfolded, walked through by keyboard, as long as it may be.
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { locale, t } from '../../../texts/texts';
import type { UnitKind } from './registers';
import { placeAbove, type Row } from './tree';

const HEIGHT = 30;
const STEP = 18;
const percent = new Intl.NumberFormat(locale, { style: 'percent', maximumFractionDigits: 0 });
const number = new Intl.NumberFormat(locale);

interface Props {
  rows: Row[];
  kinds: ReadonlyMap<number, UnitKind>;
  chosen: number;
  onChoose: (unitId: number) => void;
  onFold: (unitId: number, unfold: boolean) => void;
  onMore: (above: number) => void;
}

export function Tree({ rows, kinds, chosen, onChoose, onFold, onMore }: Props) {
  const scrolled = useRef<HTMLDivElement>(null);
  // The compiler's rules know no virtual lists.
  // eslint-disable-next-line react-hooks/incompatible-library
  const shown = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scrolled.current,
    estimateSize: () => HEIGHT,
    overscan: 12,
  });
  const at = rows.findIndex((row) => row.what === 'unit' && row.line.id === chosen);
  useEffect(() => {
    if (at >= 0) shown.scrollToIndex(at, { align: 'auto' });
    // Only when another one is chosen: scrolling about is not undone by what arrives.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen, at >= 0]);

  const goTo = (place: number) => {
    const row = rows[place];
    if (row?.what === 'unit') onChoose(row.line.id);
  };
  const press = (event: React.KeyboardEvent) => {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const row = rows[at];
    if (event.key === 'ArrowDown') goTo(at < 0 ? 0 : at + 1);
    else if (event.key === 'ArrowUp') goTo(at - 1);
    else if (event.key === 'Home') goTo(0);
    else if (event.key === 'End') goTo(rows.length - 1);
    else if (event.key === 'ArrowRight' && row?.what === 'unit') {
      if (row.line.below > 0 && !row.unfolded) onFold(row.line.id, true);
      else goTo(at + 1);
    } else if (event.key === 'ArrowLeft' && row?.what === 'unit') {
      if (row.unfolded) onFold(row.line.id, false);
      else goTo(placeAbove(rows, at));
    } else return;
    event.preventDefault();
  };

  return (
    <div
      ref={scrolled}
      className="unit-tree"
      role="tree"
      aria-label={t('register.tree')}
      tabIndex={0}
      aria-activedescendant={at >= 0 ? `unit-${String(chosen)}` : undefined}
      onKeyDown={press}
    >
      <div style={{ height: shown.getTotalSize(), position: 'relative' }}>
        {shown.getVirtualItems().map(({ index, start }) => {
          const row = rows[index];
          if (row === undefined) return null;
          const style = { top: start, height: HEIGHT, paddingInlineStart: 10 + row.depth * STEP };
          if (row.what === 'more')
            return (
              <div key={`more-${String(row.above)}`} className="unit-line more" style={style}>
                <button
                  type="button"
                  className="plain-link"
                  onClick={() => {
                    onMore(row.above);
                  }}
                >
                  {t('register.more', { count: row.left })}
                </button>
              </div>
            );
          const { line } = row;
          const kind = kinds.get(line.kind_id);
          return (
            // Keys go to the tree, as its pattern has it.
            // eslint-disable-next-line jsx-a11y/click-events-have-key-events
            <div
              key={line.id}
              id={`unit-${String(line.id)}`}
              className={`unit-line${line.id === chosen ? ' chosen' : ''}${line.meant ? '' : ' passed'}`}
              style={style}
              role="treeitem"
              tabIndex={-1}
              aria-level={row.depth + 1}
              aria-selected={line.id === chosen}
              aria-expanded={line.below > 0 ? row.unfolded : undefined}
              onClick={() => {
                onChoose(line.id);
              }}
            >
              <button
                type="button"
                className="twist"
                tabIndex={-1}
                aria-hidden={line.below === 0}
                aria-label={row.unfolded ? t('register.fold') : t('register.unfold')}
                onClick={(event) => {
                  event.stopPropagation();
                  if (line.below > 0) onFold(line.id, !row.unfolded);
                }}
              >
                {line.below === 0 ? '' : row.unfolded ? '▾' : '▸'}
              </button>
              <span className="kind-glyph" title={kind?.title} aria-label={kind?.title}>
                {kind?.settings.glyph}
              </span>
              <span className="clip" title={line.label === line.key ? line.label : `${line.label} ${line.key}`}>
                {line.closed && <span className="muted">{t('register.closedMark')} </span>}
                {line.label}
                {line.label !== line.key && <span className="unit-key"> {line.key}</span>}
              </span>
              {line.below > 0 && <span className="muted small">{number.format(line.below)}</span>}
              <span className="grow" />
              {line.faults > 0 && (
                <span className="doubt" title={t('register.faulty', { count: line.faults })}>
                  ▲
                </span>
              )}
              <span className="muted small">{line.filled == null ? '' : percent.format(line.filled)}</span>
            </div>
          );
        })}
      </div>
    </div>
  );
}
