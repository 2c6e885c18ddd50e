import { Button, Dropdown, Input, type MenuProps } from 'antd';
import type { Schemas } from '../../../shared/api/client';
import { languageName } from '../../../shared/interview/languages';
import { t } from '../../texts/texts';
import type { Script } from './script/model';
import type { ScriptEditor } from './script/useScript';
import { useMay } from '../../ui/study';

type Dialog =
  | 'release'
  | 'workbook'
  | 'comparison'
  | 'help'
  | 'modules'
  | 'lists'
  | 'languages'
  | 'media'
  | 'flow'
  | 'releases'
  | 'paradata'
  | 'paper';

/** Languages side by side before a reader has to scroll. */
export const MOST_COLUMNS = 2;

interface Props {
  draft: Schemas['Draft'];
  editor: ScriptEditor;
  readOnly: boolean;
  shown: string[];
  onShow: (languages: string[]) => void;
  onOpen: (dialog: Dialog) => void;
  onRehearse: () => void;
}

/** Above the sheet: title, languages, and what is done with the script as a whole. */
export function ScriptBar({ draft, editor, readOnly, shown, onShow, onOpen, onRehearse }: Props) {
  const may = useMay();
  const { script } = editor;
  const next = (draft.newest_release ?? 0) + 1;
  return (
    <div className="script-bar">
      <TitleField script={script} readOnly={readOnly} onEdit={editor.edit} />
      <span className="muted small">
        {draft.newest_release == null
          ? t('questionnaire.notReleasedYet')
          : editor.sameAsNewest
            ? t('questionnaire.release2', { newest_release: draft.newest_release })
            : t('questionnaire.draftAfterRelease', { newest_release: draft.newest_release })}
      </span>
      {draft.awaiting != null && (
        <button
          type="button"
          className="plain-link doubt small"
          onClick={() => {
            onOpen('releases');
          }}
        >
          {t('releases.waits', { number: draft.awaiting })}
        </button>
      )}
      <span className="grow" />
      <LanguagePicker
        script={script}
        shown={shown}
        onShow={onShow}
        onOpen={() => {
          onOpen('languages');
        }}
      />
      <Dropdown
        trigger={['click']}
        menu={{
          items: menuOf(draft, readOnly, onOpen),
        }}
      >
        <Button aria-label={t('questionnaire.more2')}>⋯</Button>
      </Dropdown>
      {!readOnly && script.parts.length > 0 && (
        <Button
          onClick={() => {
            onRehearse();
          }}
        >
          {t('questionnaire.rehearse')}
        </Button>
      )}
      {may('release.make') && script.parts.length > 0 && (
        <Button
          type="primary"
          disabled={editor.sameAsNewest && !draft.newest_is_practice}
          onClick={() => {
            onOpen('release');
          }}
        >
          {t('questionnaire.release3', { next })}
        </Button>
      )}
    </div>
  );
}

/** All that is done with the script as a whole: what went out of it, what it is made of, what it means, files. */
function menuOf(draft: Schemas['Draft'], readOnly: boolean, onOpen: (dialog: Dialog) => void): MenuProps['items'] {
  const open = (key: Dialog, label: string) => ({
    key,
    label,
    onClick: () => {
      onOpen(key);
    },
  });
  const take = (form: string, label: string) => ({
    key: `out-${form}`,
    label: (
      <a href={`/api/questionnaires/${String(draft.id)}/workbook?form=${form}`} download>
        {label}
      </a>
    ),
  });
  const line = { type: 'divider' as const };
  const { newest_release } = draft;
  return [
    ...(newest_release == null ? [] : [open('comparison', t('questionnaire.compareRelease', { newest_release }))]),
    open('releases', t('releases.title')),
    open('paper', t('paper.menu')),
    line,
    open('lists', t('lists.title')),
    open('media', t('media.title')),
    ...(readOnly ? [] : [open('modules', t('questionnaire.modulesOpen'))]),
    open('paradata', t('paradata.open')),
    line,
    open('flow', t('flow.title')),
    open('help', t('questionnaire.ruleLanguage2')),
    line,
    ...(readOnly ? [] : [open('workbook', t('questionnaire.bringWorkbook2'))]),
    take('xlsx', t('questionnaire.takeOutWorkbookXlsx')),
    take('whole', t('questionnaire.takeOutWhole')),
    take('csv', t('questionnaire.takeOutCsvFiles')),
  ];
}

function TitleField({ script, readOnly, onEdit }: { script: Script; readOnly: boolean; onEdit: ScriptEditor['edit'] }) {
  const first = script.languages[0] ?? 'en';
  return (
    <Input
      className="script-title"
      variant="borderless"
      aria-label={t('questionnaire.titleQuestionnaire')}
      readOnly={readOnly}
      value={script.title[first] ?? ''}
      onChange={(event) => {
        onEdit({ ...script, title: { ...script.title, [first]: event.target.value } }, 'title');
      }}
    />
  );
}

function LanguagePicker({
  script,
  shown,
  onShow,
  onOpen,
}: {
  script: Script;
  shown: string[];
  onShow: (tags: string[]) => void;
  onOpen: () => void;
}) {
  const items = script.languages.map((tag) => ({
    key: tag,
    label: `${shown.includes(tag) ? '✓ ' : '   '}${languageName(tag)}`,
    onClick: () => {
      const next = shown.includes(tag) ? shown.filter((t) => t !== tag) : [...shown, tag].slice(-3);
      if (next.length > 0) onShow(next);
    },
  }));
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: [...items, { type: 'divider' as const }, { key: '+', label: t('languages.open'), onClick: onOpen }],
      }}
    >
      <button type="button" className="plain-link">
        {script.languages
          .filter((t) => shown.includes(t))
          .map(languageName)
          .join(' · ')}
        {script.languages.length > shown.length ? ` · +${String(script.languages.length - shown.length)}` : ' ▾'}
      </button>
    </Dropdown>
  );
}
