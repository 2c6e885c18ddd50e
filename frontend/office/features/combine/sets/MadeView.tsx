// What a recipe makes: its tables, what stays out of it and why.
import { t } from '../../../texts/texts';
import type { Made, Recipe } from './recipe';

export function MadeView({ made, recipe, titles }: { made: Made; recipe: Recipe; titles: string[] }) {
  return (
    <div className="set-made">
      <ul className="plain-list">
        {made.tables.map((table) => (
          <li key={table.name}>
            <b className="n">{table.rows.toLocaleString()}</b>{' '}
            {table.name === 'interviews' ? t('sets.interviews') : table.name}
            <span className="muted small"> · {t('sets.variableCount', { count: table.variables })}</span>
          </li>
        ))}
      </ul>
      {made.narrowed.map((one, place) => (
        <p className="small" key={place}>
          {made.narrowed.length > 1 && <b>{titles[place]}: </b>}
          {recipe.sources[place]?.outside == null
            ? t('sets.kept', { kept: one.kept, of: one.interviews })
            : t('sets.rowsTaken', { count: one.kept })}
          {one.not_accepted > 0 && <> · {t('sets.notAccepted', { count: one.not_accepted })}</>}
          {one.other_release > 0 && <> · {t('sets.otherRelease', { count: one.other_release })}</>}
          {one.other_day > 0 && <> · {t('sets.otherDay', { count: one.other_day })}</>}
        </p>
      ))}
      {made.left_out.map((count, place) => (
        <p className="small" key={place}>
          {t('sets.leftOut', { count })} <code>{recipe.left_out[place]?.rule}</code>
        </p>
      ))}
      {made.beyond.map((count, place) => {
        const turn = recipe.turned[place];
        return (
          count > 0 &&
          turn?.how === 'wide' && (
            <p className="small doubt" key={place}>
              {t('sets.beyond', { count, table: turn.table, most: turn.most })}
            </p>
          )
        );
      })}
    </div>
  );
}
