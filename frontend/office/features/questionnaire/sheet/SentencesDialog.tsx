import type { CompletionSource } from '@codemirror/autocomplete';
import { Button, Modal } from 'antd';
import { useMemo, useState } from 'react';
import { t } from '../../../texts/texts';
import { RuleEditor } from '../details/RuleEditor';
import { completeRule } from '../details/completion';
import { useVocabulary } from '../details/useVocabulary';
import type { Finding, Kind, Part, Script } from '../script/model';
import { FACTS } from '../script/facts';
import {
  SAYS,
  SENTENCES,
  applySentences,
  readSentences,
  writeSentences,
  type ReadSentence,
  type RuleField,
} from '../script/sentences';

interface Props {
  part: Part;
  script: Script;
  kinds: Kind[];
  findings: Finding[];
  onChange: (part: Part) => void;
  /** Left by Escape or the button, or by Tab to the next cell or back. */
  onClose: (leave: 'stay' | 'next' | 'back') => void;
}

/** All of a line but its wording as sentences, one a row: written and checked as a text, without a field for each. */
export function SentencesDialog({ part, script, kinds, findings, onChange, onClose }: Props) {
  const tag = script.languages[0] ?? 'en';
  const [text, setText] = useState(() => openedWith(writeSentences(part, tag)));
  const words = useMemo(() => wordsFor(kinds.find((k) => k.name === part.kind)), [kinds, part.kind]);
  const vocabulary = useVocabulary(script, part);
  const complete = useMemo(() => completeSentence(words, completeRule(vocabulary)), [words, vocabulary]);
  const own = findings.filter((f) => f.part_id === part.id && f.severity === 'error');
  const { read, stray } = readSentences(text);
  const placed = placesOf(read);
  const faults = [
    ...own.flatMap((f) => {
      const at = placed.get(f.field);
      return at === undefined ? [] : [{ start: at + f.start, length: f.length }];
    }),
    ...stray.map((line) => ({ start: line.start, length: line.text.length })),
  ];
  return (
    <Modal
      open
      width={640}
      style={{ top: 120 }}
      title={
        <>
          {t('questionnaire.rulesOf')} <code>{part.variable || part.kind}</code>
        </>
      }
      onCancel={() => {
        onClose('stay');
      }}
      keyboard={false}
      footer={
        <Button
          type="primary"
          onClick={() => {
            onClose('stay');
          }}
        >
          {t('questionnaire.done')}
        </Button>
      }
    >
      <div className="sentences">
        <RuleEditor
          label={t('questionnaire.rules')}
          takesCaret
          value={text}
          faults={faults}
          complete={complete}
          placeholder={t('questionnaire.sentencesPlaceholder')}
          onChange={(typed) => {
            setText(typed);
            onChange(applySentences(part, typed, tag));
          }}
          onLeave={() => {
            onClose('stay');
          }}
          onTab={(backwards) => {
            onClose(backwards ? 'back' : 'next');
          }}
        />
        {stray.map((line) => (
          <p key={line.start} className="rule-note" role="status">
            {t('questionnaire.strayRule', { text: line.text.trim() })} <b>{words.join(' · ')}</b>
          </p>
        ))}
        {own
          .filter((f) => placed.has(f.field))
          .map((f) => (
            <p key={f.field + f.code + String(f.start)} className="rule-note" role="status">
              {f.message} <b>{f.mend}</b>
            </p>
          ))}
        <p className="muted small">{t('questionnaire.sentencesHelp')}</p>
      </div>
    </Modal>
  );
}

/** What there is, and a row to go on in. */
const openedWith = (text: string): string => (text === '' ? '' : `${text}\n`);

/** The words that a sentence about this kind of line may begin with. */
function wordsFor(kind: Kind | undefined): string[] {
  const means: Partial<Record<RuleField, boolean>> = {
    repeated: kind?.name === 'roster',
    derived: kind?.derives === true,
    code_filter: kind?.uses_codes === true,
    default: kind?.takes_answer === true,
    answer_needed: kind?.takes_answer === true,
  };
  const rules = SENTENCES.filter(({ field }) => means[field] !== false).map(({ word }) => word);
  return [...rules, SAYS, ...FACTS.map(({ word }) => word)];
}

const completeSentence =
  (words: string[], rest: CompletionSource): CompletionSource =>
  (context) => {
    const line = context.state.doc.lineAt(context.pos);
    const before = line.text.slice(0, context.pos - line.from);
    if (words.some((word) => before.startsWith(`${word} `))) return rest(context);
    if (before.trim() === '' && !context.explicit) return null;
    return {
      from: line.from,
      options: words.map((word) => ({ label: word, apply: `${word} `, type: 'keyword' })),
      validFor: /^[a-z ]*$/,
    };
  };

/** Where each rule begins, by the field that findings name. */
function placesOf(read: ReadSentence[]): Map<string, number> {
  const counts = new Map<RuleField, number>();
  return new Map(
    read.map(({ sentence: { field }, start }) => {
      const number = counts.get(field) ?? 0;
      counts.set(field, number + 1);
      return [field === 'must_hold' || field === 'should_hold' ? `${field}.${String(number)}.rule` : field, start];
    }),
  );
}
