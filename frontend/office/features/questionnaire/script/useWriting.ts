// What writing needs the server's knowledge of the rule language for. Each is one edit, that can be undone.
import { App, Button } from 'antd';
import { createElement, useCallback, useMemo, useRef } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { merge } from './merge';
import { holdsParts, type Part, type Script } from './model';
import type { ScriptEditor } from './useScript';

type Fragment = Schemas['Fragment'];

/** Nothing was chosen yet on a line whose kind may be proposed. */
const isUntouched = (part: Part): boolean => part.kind === 'text' && part.code_list === '' && part.mask === '';

const mentions = (script: Script, name: string): boolean =>
  new RegExp(`\\b${name}(_other)?\\b`).test(
    JSON.stringify(script.parts.map((part) => ({ ...part, id: '', variable: '', remark: '' }))) +
      JSON.stringify(script.unit_lists),
  );

const withVariable = (script: Script, names: Record<string, string>): Script => ({
  ...script,
  parts: script.parts.map((part) => {
    const variable = names[part.id];
    return variable === undefined ? part : { ...part, variable };
  }),
});

export function useWriting(questionnaireId: number, editor: ScriptEditor) {
  const { message } = App.useApp();
  const { edit, current, undo } = editor;
  const path = useMemo(() => ({ params: { path: { questionnaire_id: questionnaireId } } }), [questionnaireId]);
  const waiting = useRef<Promise<unknown>>(Promise.resolve());
  const asking = useRef(new Set<string>());
  // Names proposed that the script does not show yet.
  const proposed = useRef(new Set<string>());

  const told = useCallback(
    (words: string) => {
      const key = crypto.randomUUID();
      message.success({
        key,
        duration: 5,
        content: createElement(
          'span',
          null,
          words,
          ' ',
          createElement(Button, {
            type: 'link',
            size: 'small',
            onClick: () => {
              undo();
              message.destroy(key);
            },
            children: t('common.undo'),
          }),
        ),
      });
    },
    [message, undo],
  );
  const failed = useCallback(
    (error: unknown) => {
      message.error({ content: messageOf(error), duration: 8 });
    },
    [message],
  );

  /** Call lines otherwise, with all rules and texts that mention them. */
  const rename = useCallback(
    async (names: Record<string, string>) => {
      const script = current();
      const before = script.parts.filter((part) => part.id in names && part.variable !== '');
      if (!before.some((part) => mentions(script, part.variable))) {
        edit((now) => withVariable(now, names));
        return;
      }
      try {
        const made = await ask(
          api.POST('/api/questionnaires/{questionnaire_id}/renaming', { ...path, body: { script, names } }),
        );
        const places = made.followed.length;
        edit((now) => (now === script ? made.script : merge(script, made.script, now).script));
        if (places > 0) told(t('questionnaire.renamedEverywhere', { count: places }));
      } catch (error) {
        // The old name stays: a new one that its rules did not follow would leave them pointing at nothing.
        failed(error);
      }
    },
    [current, edit, failed, path, told],
  );

  /** Put lines in before line `at`; resolves to their identities. */
  const putIn = useCallback(
    async (fragment: Fragment, at: number, level: number): Promise<string[]> => {
      const script = current();
      try {
        const made = await ask(
          api.POST('/api/questionnaires/{questionnaire_id}/graft', {
            ...path,
            body: { script, fragment, at, level, prefix: '' },
          }),
        );
        edit((now) => (now === script ? made.script : merge(script, made.script, now).script));
        const renamed = Object.keys(made.renamed).length;
        told(
          [
            t('questionnaire.linesPutIn', { count: made.added.length }),
            renamed > 0 ? t('questionnaire.renamedTaken', { count: renamed }) : '',
          ]
            .filter(Boolean)
            .join(' '),
        );
        return made.added;
      } catch (error) {
        failed(error);
        return [];
      }
    },
    [current, edit, failed, path, told],
  );

  /** Fill what a new line leaves open from its wording: one after the other, so that no two get one name. */
  const propose = useCallback(
    (partId: string) => {
      if (asking.current.has(partId)) return waiting.current;
      asking.current.add(partId);
      const asked = async () => {
        const script = current();
        const part = script.parts.find((p) => p.id === partId);
        if (
          !part ||
          part.variable !== '' ||
          part.kind === 'statement' ||
          Object.values(part.wording).every((w) => w.trim() === '')
        )
          return;
        const taken = script.parts.map((p) => p.variable).filter((v) => v !== '');
        for (const name of taken) proposed.current.delete(name);
        const [proposal] = await ask(
          api.POST('/api/questionnaires/{questionnaire_id}/proposals', {
            ...path,
            body: {
              languages: script.languages,
              taken: [...taken, ...proposed.current],
              lists: script.code_lists.map((list) => list.name),
              lines: [{ wording: part.wording, holds: holdsParts(part) }],
            },
          }),
        );
        if (proposal === undefined) return;
        if (proposal.variable !== '') proposed.current.add(proposal.variable);
        edit(
          (now) => ({
            ...now,
            parts: now.parts.map((p) => (p.id === partId && p.variable === '' ? filled(p, proposal) : p)),
          }),
          `${partId}.proposal`,
        );
      };
      // Without the server a line simply stays as it was typed.
      waiting.current = waiting.current
        .then(asked)
        .catch(() => undefined)
        .finally(() => asking.current.delete(partId));
      return waiting.current;
    },
    [current, edit, path],
  );

  /** Cells of a spreadsheet as lines, to be looked at first. */
  const readCells = useCallback(
    (rows: string[][], headings: string[]) =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/cells', {
          ...path,
          body: { script: current(), rows, headings },
        }),
      ),
    [current, path],
  );

  /** Modules put in at the end of the script, one behind the other, as one edit. */
  const takeModules = useCallback(
    async (names: string[]) => {
      const script = current();
      let made = script;
      try {
        for (const name of names)
          made = (
            await ask(
              api.POST('/api/questionnaires/{questionnaire_id}/modules', {
                ...path,
                body: { script: made, name, at: made.parts.length, level: 1 },
              }),
            )
          ).script;
        edit((now) => (now === script ? made : merge(script, made, now).script));
        told(t('questionnaire.linesPutIn', { count: made.parts.length - script.parts.length }));
      } catch (error) {
        failed(error);
      }
    },
    [current, edit, failed, path, told],
  );

  const updateModule = useCallback(
    (name: string) =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/modules/updating', {
          ...path,
          body: { script: current(), name },
        }),
      ),
    [current, path],
  );

  return useMemo(
    () => ({ rename, putIn, propose, readCells, takeModules, updateModule, told }),
    [rename, putIn, propose, readCells, takeModules, updateModule, told],
  );
}

export type Writing = ReturnType<typeof useWriting>;

function filled(part: Part, proposal: Schemas['Proposal']): Part {
  if (holdsParts(part)) return { ...part, variable: part.kind === 'section' ? '' : proposal.variable };
  if (!isUntouched(part)) return { ...part, variable: proposal.variable };
  return {
    ...part,
    variable: proposal.variable,
    kind: proposal.kind,
    code_list: proposal.code_list,
    unit: proposal.unit,
    answer_needed: part.answer_needed === '' ? proposal.answer_needed : part.answer_needed,
  };
}
