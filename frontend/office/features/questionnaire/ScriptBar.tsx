import { Button, Dropdown, Input, type MenuProps } from 'antd';
import type { Schemas } from '../../../shared/api/client';
import { languageName } from '../../../shared/interview/languages';
import { t } from '../../texts/texts';
import { PANES, type Pane } from './Panes';
import type { Script } from './script/model';
import type { ScriptEditor } from './script/useScript';
import { useOfferedActs, type Act } from '../../ui/acts';
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
  onPane: (pane: Pane) => void;
}

/** Above the sheet: title, languages, and what is done with the script as a whole. */
export function ScriptBar({ draft, editor, readOnly, shown, onShow, onOpen, onPane }: Props) {
  const may = useMay();
  const { script } = editor;
  const next = (draft.newest_release ?? 0) + 1;
  const mayRelease = may('release.make') && script.parts.length > 0;
  const sameAsNewest = editor.sameAsNewest && !draft.newest_is_practice;
  const groups = doneWith(draft, readOnly, onOpen);
  const release = {
    key: 'release',
    label: t('questionnaire.release3', { next }),
    run: () => {
      onOpen('release');
    },
  };
  const languages = {
    key: 'languages',
    label: t('languages.open'),
    run: () => {
      onOpen('languages');
    },
  };
  useOfferedActs([
    ...groups.flat(),
    languages,
    ...(mayRelease && !sameAsNewest ? [release] : []),
    ...PANES.filter((pane) => pane.key !== 'rehearsal' || may('job.read')).map(({ key, label }) => ({
      key: `pane ${key}`,
      label: t('questionnaire.openPane', { label }),
      run: () => {
        onPane(key);
      },
    })),
  ]);
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
      <LanguagePicker script={script} shown={shown} onShow={onShow} onOpen={languages.run} />
      <Dropdown trigger={['click']} menu={{ items: menuOf(groups) }}>
        <Button aria-label={t('questionnaire.more2')}>⋯</Button>
      </Dropdown>
      {!readOnly && script.parts.length > 0 && (
        <Button
          onClick={() => {
            onPane('rehearsal');
          }}
        >
          {t('questionnaire.rehearse')}
        </Button>
      )}
      {mayRelease && (
        <Button type="primary" disabled={sameAsNewest} onClick={release.run}>
          {release.label}
        </Button>
      )}
    </div>
  );
}

/** All that is done with the script as a whole: what went out of it, what it is made of, what it means, files. */
function doneWith(draft: Schemas['Draft'], readOnly: boolean, onOpen: (dialog: Dialog) => void): Act[][] {
  const open = (key: Dialog, label: string): Act => ({
    key,
    label,
    run: () => {
      onOpen(key);
    },
  });
  const take = (form: string, label: string): Act => ({
    key: `out-${form}`,
    label,
    run: () => {
      window.location.assign(`/api/questionnaires/${String(draft.id)}/workbook?form=${form}`);
    },
  });
  const { newest_release } = draft;
  return [
    [
      ...(newest_release == null ? [] : [open('comparison', t('questionnaire.compareRelease', { newest_release }))]),
      open('releases', t('releases.title')),
      open('paper', t('paper.menu')),
    ],
    [
      open('lists', t('lists.title')),
      open('media', t('media.title')),
      ...(readOnly ? [] : [open('modules', t('questionnaire.modulesOpen'))]),
      open('paradata', t('paradata.open')),
    ],
    [open('flow', t('flow.title')), open('help', t('questionnaire.ruleLanguage2'))],
    [
      ...(readOnly ? [] : [open('workbook', t('questionnaire.bringWorkbook2'))]),
      take('xlsx', t('questionnaire.takeOutWorkbookXlsx')),
      take('whole', t('questionnaire.takeOutWhole')),
      take('csv', t('questionnaire.takeOutCsvFiles')),
    ],
  ];
}

/** The same as a menu, a line between the groups. */
const menuOf = (groups: Act[][]): MenuProps['items'] =>
  groups.flatMap((group, i) => [
    ...(i > 0 ? [{ type: 'divider' as const }] : []),
    ...group.map(({ key, label, run }) => ({ key, label, onClick: run })),
  ]);

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
