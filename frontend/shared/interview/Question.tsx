// One question as it is asked: wording, instruction, the means to answer, what is wrong with the answer.
import { useId, type ReactNode } from 'react';
import { KINDS, type InputName } from '../api/contract';
import type { Json, Screen } from '../engine/types';
import { Quantity } from './answers/Amount';
import { Choices } from './answers/Choices';
import { ManyAnswers, SingleAnswer } from './answers/Codes';
import { FileAnswer } from './answers/Files';
import { Instrument } from './answers/Instrument';
import { ReadBack, UnitAnswer } from './answers/Picked';
import { PointAnswer, ShapeAnswer } from './answers/Places';
import type { AnswerProps } from './answers/props';
import { Ranking } from './answers/Ranking';
import { Scanned } from './answers/Scanned';
import { DateTime, Typed } from './answers/Typed';
import { Signature } from './answers/Signature';
import { FindingNote } from './FindingNote';
import { MediaBeside } from './media';
import './question.css';

interface Props {
  screen: Screen;
  t: AnswerProps['t'];
  language: string;
  /** Whether to say that a needed answer is missing: only once somebody tried to go on. */
  showNeeded: boolean;
  onAnswer: (value: Json) => void;
  onKeep: (check: number, reason: string) => void;
  findCodes: AnswerProps['findCodes'];
  keepFile?: AnswerProps['keepFile'];
  readFile?: AnswerProps['readFile'];
}

export function Question({ screen, t, language, showNeeded, onAnswer, onKeep, findCodes, keepFile, readFile }: Props) {
  const id = useId();
  const shown = screen.findings.filter((f) => f.code !== 'needed' || showNeeded);
  return (
    <div className="question">
      <h1 id={id} className={screen.read_aloud ? 'question-wording' : 'question-wording silent'}>
        {screen.wording.map((piece, i) =>
          piece.filled ? <b key={i}>{piece.text}</b> : <span key={i}>{piece.text}</span>,
        )}
      </h1>
      {screen.instruction !== '' && <p className="question-instruction">{screen.instruction}</p>}
      <MediaBeside names={screen.media} />
      <Answer
        key={screen.path}
        screen={screen}
        t={t}
        language={language}
        labelledBy={id}
        invalid={shown.length > 0}
        onAnswer={onAnswer}
        findCodes={findCodes}
        keepFile={keepFile}
        readFile={readFile}
      />
      <div aria-live="polite">
        {shown.map((finding) => (
          <FindingNote key={`${finding.code}${String(finding.check)}`} finding={finding} t={t} onKeep={onKeep} />
        ))}
      </div>
    </div>
  );
}

/** What each kind of question is answered with; the kinds and their inputs are the engine's. */
const ANSWERS: Record<InputName, (props: AnswerProps) => ReactNode> = {
  '': () => null,
  typed: Typed,
  'typed moment': DateTime,
  'yes or no': YesNo,
  'one code': SingleAnswer,
  'many codes': ManyAnswers,
  ranking: Ranking,
  'amount and unit': Quantity,
  instrument: Instrument,
  scan: Scanned,
  position: PointAnswer,
  positions: ShapeAnswer,
  file: FileAnswer,
  signature: Signature,
  pick: UnitAnswer,
  'read-back': ReadBack,
};

/** The means to answer; a kind that this build does not know is an error, and no text field. */
function Answer(props: AnswerProps) {
  const { kind } = props.screen;
  // A release may have been made by a newer Skavo than this page belongs to.
  if (!Object.hasOwn(KINDS, kind)) throw new Error(`This build does not know questions of the kind “${kind}”.`);
  const Means = ANSWERS[KINDS[kind].input];
  return <Means {...props} />;
}

function YesNo({ screen, t, labelledBy, onAnswer }: AnswerProps) {
  return (
    <Choices
      labelledBy={labelledBy}
      options={[
        { code: 'yes', label: t('yes') },
        { code: 'no', label: t('no') },
      ]}
      chosen={screen.value === true ? ['yes'] : screen.value === false ? ['no'] : []}
      onChoose={(code) => {
        onAnswer(code === 'yes');
      }}
    />
  );
}
