import { Drawer, Modal } from 'antd';
import { useState } from 'react';
import type { Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { ModuleShelf } from './begin/ModuleShelf';
import { SaveModule } from './begin/SaveModule';
import { UpdateModule } from './begin/UpdateModule';
import { RuleHelp } from './details/RuleHelp';
import { RuleField } from './details/RuleField';
import { LanguagesDrawer } from './languages/LanguagesDrawer';
import { FlowDrawer } from './flow/FlowDrawer';
import { ListsDrawer } from './lists/ListsDrawer';
import { MediaDrawer } from './media/MediaDrawer';
import { UnitListDrawer } from './lists/UnitListDrawer';
import { RehearsalDrawer } from './rehearsal/RehearsalDrawer';
import type { FiguresTab } from './rehearsal/RehearsalPane';
import { ComparisonDrawer } from './release/Comparison';
import { PaperDialog } from './release/PaperDialog';
import { ReleaseDialog } from './release/ReleaseDialog';
import { ReleasesDrawer } from './release/ReleasesDrawer';
import { WorkbookDialog } from './release/WorkbookDialog';
import { modulesIn, type Kind, type Part, type Script } from './script/model';
import type { ScriptEditor } from './script/useScript';
import type { Writing } from './script/useWriting';
import { ParadataDialog } from './ParadataDialog';
import { StandardDialog } from './StandardDialog';
import { AnswerPicker } from './sheet/AnswerPicker';
import { fragmentOf } from './sheet/clipboard';
import { PasteDialog } from './sheet/PasteDialog';
import { SentencesDialog } from './sheet/SentencesDialog';
import { Shortcuts } from './sheet/Shortcuts';
import type { SheetActs } from './sheet/useSheet';

/** What is open over the sheet. */
export type Open =
  | {
      what:
        | 'release'
        | 'workbook'
        | 'shortcuts'
        | 'comparison'
        | 'help'
        | 'modules'
        | 'lists'
        | 'languages'
        | 'media'
        | 'flow'
        | 'releases'
        | 'standard'
        | 'paradata'
        | 'paper';
    }
  | { what: 'list' | 'units'; name: string }
  | { what: 'figures'; tab: FiguresTab }
  | { what: 'answer'; id: string; typed: string }
  | { what: 'rules'; id: string }
  | { what: 'asked when'; ids: ReadonlySet<string> }
  | { what: 'save module'; ids: ReadonlySet<string> }
  | { what: 'update module'; name: string }
  | { what: 'paste'; rows: string[][] };

interface Props {
  open: Open | null;
  draft: Schemas['Draft'];
  editor: ScriptEditor;
  writing: Writing;
  kinds: Kind[];
  readOnly: boolean;
  acts: SheetActs;
  columns: string[];
  /** The line in hand. */
  partId: string | null;
  onOpen: (open: Open | null) => void;
  onOpenRule: (id: string, field: string) => void;
  onGoToVariable: (variable: string) => void;
  onOpenTest: (name: string) => void;
}

/** One of them at a time; closing it leads back to where the keys were. */
export function Dialogs({
  open,
  draft,
  editor,
  writing,
  kinds,
  readOnly,
  acts,
  columns,
  partId,
  onOpen,
  onOpenRule,
  onGoToVariable,
  onOpenTest,
}: Props) {
  const { script, edit } = editor;
  const close = () => {
    onOpen(null);
  };
  const goAndClose = (id: string, field: string) => {
    close();
    onOpenRule(id, field);
  };
  const partOf = (id: string): Part | undefined => script.parts.find((part) => part.id === id);
  switch (open?.what) {
    case undefined:
      return null;
    case 'answer':
      return (
        <AnswerPicker
          script={script}
          kinds={kinds}
          present={presentOf(partOf(open.id))}
          typed={open.typed}
          onClose={() => {
            close();
            acts.goTo(open.id, 'answer');
          }}
          onPick={(choice) => {
            edit((now) => choice.take(now, open.id));
            close();
            acts.goTo(open.id, 'answer');
          }}
        />
      );
    case 'rules': {
      const part = partOf(open.id);
      if (!part) return null;
      return (
        <SentencesDialog
          part={part}
          script={script}
          kinds={kinds}
          findings={editor.findings}
          onChange={(changed) => {
            acts.change(part.id, 'rules', () => changed);
          }}
          onClose={(leave) => {
            close();
            const lines = script.parts;
            const next = leave === 'next' ? lines[lines.indexOf(part) + 1] : undefined;
            if (next) acts.goTo(next.id, columns[0] ?? 'variable');
            else acts.goTo(part.id, leave === 'back' ? 'answer' : 'rules');
          }}
        />
      );
    }
    case 'asked when':
      return <AskedWhen {...{ script, acts }} ids={open.ids} onClose={close} />;
    case 'modules':
      return (
        <Drawer open size={860} title={t('questionnaire.modulesTitle')} onClose={close}>
          <ModuleShelf
            studyId={draft.study_id}
            kinds={kinds}
            language={script.languages[0] ?? 'en'}
            taken={modulesIn(script)}
            onTake={(names) => writing.takeModules(names).then(close)}
            onUpdate={(name) => {
              onOpen({ what: 'update module', name });
            }}
          />
        </Drawer>
      );
    case 'update module':
      return (
        <UpdateModule
          name={open.name}
          writing={writing}
          onClose={close}
          onTake={(taken) => {
            edit(taken);
            close();
          }}
        />
      );
    case 'save module': {
      const fragment = fragmentOf(script, open.ids);
      return (
        <SaveModule
          studyId={draft.study_id}
          fragment={fragment}
          title={fragment.parts[0]?.wording[script.languages[0] ?? 'en'] ?? ''}
          onClose={close}
        />
      );
    }
    case 'paste':
      return (
        <PasteDialog
          rows={open.rows}
          script={script}
          writing={writing}
          onClose={close}
          onTake={(fragment) => {
            close();
            void acts.putIn(fragment);
          }}
        />
      );
    case 'lists':
    case 'list':
      return (
        <ListsDrawer
          questionnaireId={draft.id}
          studyId={draft.study_id}
          name={open.what === 'list' ? open.name : ''}
          editor={editor}
          readOnly={readOnly}
          onClose={close}
          onNamed={(name) => {
            onOpen({ what: 'list', name });
          }}
          onGo={(id) => {
            acts.goTo(id, 'answer');
          }}
        />
      );
    case 'languages':
      return (
        <LanguagesDrawer
          questionnaireId={draft.id}
          editor={editor}
          readOnly={readOnly}
          onClose={close}
          onGo={(id) => {
            acts.goTo(id, columns[1] ?? 'variable');
          }}
        />
      );
    case 'releases':
      return (
        <ReleasesDrawer
          questionnaireId={draft.id}
          readOnly={readOnly}
          onClose={close}
          onTakeBack={(taken) => {
            edit(taken);
            close();
          }}
          onChanged={() => {
            void editor.askAgain();
          }}
          onGo={goAndClose}
        />
      );
    case 'standard':
      return (
        <StandardDialog
          studyId={draft.study_id}
          readOnly={readOnly}
          onClose={close}
          onSaved={() => {
            void editor.askAgain();
            close();
          }}
        />
      );
    case 'flow':
      return (
        <FlowDrawer
          questionnaireId={draft.id}
          script={script}
          version={editor.version}
          partId={partId}
          onClose={close}
          onGo={(id) => {
            acts.goTo(id, columns[1] ?? 'variable');
          }}
        />
      );
    case 'media':
      return (
        <MediaDrawer
          studyId={draft.study_id}
          questionnaireId={draft.id}
          script={script}
          readOnly={readOnly}
          onClose={close}
          onGo={(id) => {
            acts.goTo(id, columns[1] ?? 'variable');
          }}
        />
      );
    case 'units':
      return (
        <UnitListDrawer
          name={open.name}
          script={script}
          findings={editor.findings}
          readOnly={readOnly}
          onClose={close}
          onChange={edit}
          onNamed={(name) => {
            onOpen({ what: 'units', name });
          }}
        />
      );
    case 'release':
      return (
        <ReleaseDialog
          draft={draft}
          version={editor.version}
          waiting={editor.save !== 'saved'}
          number={(draft.newest_release ?? 0) + 1}
          same={editor.sameAsNewest}
          errors={editor.findings.filter((f) => f.severity === 'error')}
          script={script}
          onReleased={editor.released}
          onClose={close}
          onGo={goAndClose}
        />
      );
    case 'workbook':
      return (
        <WorkbookDialog
          questionnaireId={draft.id}
          studyId={draft.study_id}
          languages={script.languages}
          onClose={close}
          onTake={(taken) => {
            edit(taken);
            close();
          }}
        />
      );
    case 'figures':
      return (
        <RehearsalDrawer
          questionnaireId={draft.id}
          studyId={draft.study_id}
          tab={open.tab}
          readOnly={readOnly}
          onTab={(tab) => {
            onOpen({ what: 'figures', tab });
          }}
          onClose={close}
          onGo={onGoToVariable}
          onOpenTest={onOpenTest}
        />
      );
    case 'paper':
      return (
        <PaperDialog
          questionnaireId={draft.id}
          languages={script.languages}
          blocked={editor.releaseHash === null ? t('questionnaire.mendErrorsFirstWhat') : ''}
          onClose={close}
        />
      );
    case 'paradata':
      return (
        <ParadataDialog
          script={script}
          readOnly={readOnly}
          edit={edit}
          onClose={close}
          onGo={(id) => {
            close();
            acts.goTo(id, columns[1] ?? 'variable');
          }}
        />
      );
    case 'comparison':
      return <ComparisonDrawer questionnaireId={draft.id} onClose={close} onGo={goAndClose} />;
    case 'help':
      return <RuleHelp onClose={close} />;
    case 'shortcuts':
      return <Shortcuts onClose={close} />;
  }
}

/** The key of what a line asks for now, among the choices of the picker. */
function presentOf(part: Part | undefined): string {
  if (!part) return '';
  if (part.code_list !== '') return `${part.kind} ${part.code_list}`;
  return part.kind === 'quantity' && part.unit !== '' ? `quantity ${part.unit}` : part.kind;
}

/** One condition for many lines at once; what stood there before can be had back by undo. */
function AskedWhen({
  script,
  ids,
  acts,
  onClose,
}: {
  script: Script;
  ids: ReadonlySet<string>;
  acts: SheetActs;
  onClose: () => void;
}) {
  const [rule, setRule] = useState('');
  return (
    <Modal
      open
      title={t('questionnaire.askedWhenMany', { count: ids.size })}
      okText={t('questionnaire.setHere')}
      onCancel={onClose}
      onOk={() => {
        acts.changeMany(ids, (part) => ({ ...part, asked_when: rule.trim() }));
        onClose();
      }}
    >
      <RuleField
        label={t('questionnaire.askedWhen')}
        value={rule}
        findings={[]}
        script={script}
        placeholder={t('questionnaire.always')}
        onChange={setRule}
      />
    </Modal>
  );
}
