// What code lists need the server for: rules that follow, ready lists, tables. Nothing is kept until the script is.
import { App } from 'antd';
import { useMemo } from 'react';
import { api, ask, sendFile, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { merge } from '../script/merge';
import { ruleTexts, type CodeList, type Script } from '../script/model';
import type { ScriptEditor } from '../script/useScript';

export type Table = Schemas['TableOut'];
export type ListTable = Schemas['ListTable'];

/** Whether a code may be named in a rule, a text or by a list that hangs under this one. */
function isNamed(script: Script, code: string): boolean {
  const named = new RegExp(`(?<![\\w])${code.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?![\\w])`);
  return (
    script.parts.some((part) =>
      [...ruleTexts(part), ...Object.values(part.wording), ...Object.values(part.instruction)]
        .concat([...part.must_hold, ...part.should_hold].flatMap((c) => Object.values(c.message)))
        .some((text) => named.test(text)),
    ) || script.code_lists.some((list) => list.codes.some((c) => Object.values(c.attributes).includes(code)))
  );
}

export function useLists(questionnaireId: number, editor: ScriptEditor) {
  const { message } = App.useApp();
  const { edit, current } = editor;
  return useMemo(() => {
    const path = { params: { path: { questionnaire_id: questionnaireId } } };
    /** Call a code otherwise, with all rules and lists that mean it. */
    const recode = async (list: string, before: string, after: string) => {
      const script = current();
      if (before === '' || !isNamed(script, before)) {
        edit((now) => ({
          ...now,
          code_lists: now.code_lists.map((l) =>
            l.name === list ? { ...l, codes: l.codes.map((c) => (c.code === before ? { ...c, code: after } : c)) } : l,
          ),
        }));
        return;
      }
      try {
        const made = await ask(
          api.POST('/api/questionnaires/{questionnaire_id}/lists/codes', {
            ...path,
            body: { script, code_list: list, codes: { [before]: after } },
          }),
        );
        edit((now) => (now === script ? made.script : merge(script, made.script, now).script));
        if (made.followed.length > 0)
          message.success(t('questionnaire.renamedEverywhere', { count: made.followed.length }));
      } catch (error) {
        message.error({ content: messageOf(error), duration: 8 });
      }
    };
    return {
      recode,
      ready: () => ask(api.GET('/api/ready-lists')),
      takeReady: (name: string, languages: string[]) =>
        ask(api.POST('/api/questionnaires/{questionnaire_id}/lists/ready', { ...path, body: { name, languages } })),
      merging: (script: Script, stays: string, goes: string, becomes: Record<string, string>) =>
        ask(
          api.POST('/api/questionnaires/{questionnaire_id}/lists/merging', {
            ...path,
            body: { script, stays, goes, becomes },
          }),
        ),
      readFile: (file: File, languages: string[]) =>
        sendFile<Table>(
          `/api/questionnaires/${String(questionnaireId)}/lists/file?${new URLSearchParams({ name: file.name, languages: languages.join(',') }).toString()}`,
          file,
        ),
      tables: () => ask(api.GET('/api/questionnaires/{questionnaire_id}/lists/tables', path)),
      readOutside: (name: string, languages: string[]) =>
        ask(api.POST('/api/questionnaires/{questionnaire_id}/lists/outside', { ...path, body: { name, languages } })),
      updating: (present: CodeList, table: Table, how: ListTable, dropMissing: boolean) =>
        ask(
          api.POST('/api/questionnaires/{questionnaire_id}/lists/updating', {
            ...path,
            body: { present, columns: table.columns, rows: table.rows, table: how, drop_missing: dropMissing },
          }),
        ),
      levels: (table: Table, levels: Schemas['Level'][], language: string) =>
        ask(
          api.POST('/api/questionnaires/{questionnaire_id}/lists/levels', {
            ...path,
            body: { columns: table.columns, rows: table.rows, levels, language },
          }),
        ),
    };
  }, [current, edit, message, questionnaireId]);
}

export type Lists = ReturnType<typeof useLists>;
