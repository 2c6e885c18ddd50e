// The whole questionnaire as its blocks, what decides about what, and how many interviews went which way.
import { useQuery } from '@tanstack/react-query';
import { Alert, Drawer, Segmented } from 'antd';
import { useMemo, useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { Empty, Loaded } from '../../../ui/states';
import type { Part, Script } from '../script/model';
import { BLOCK_WIDTH, heightOf, linesOf, place, widthOf } from './layout';
import './flow.css';

interface Props {
  questionnaireId: number;
  script: Script;
  /** Whether the last edit is kept: the flow is that of what is. */
  version: number;
  partId: string | null;
  onClose: () => void;
  onGo: (partId: string) => void;
}

type Flow = Schemas['FlowOut'];
type Source = 'real' | 'rehearsed';

export function FlowDrawer({ questionnaireId, script, version, partId, onClose, onGo }: Props) {
  const flow = useQuery({
    queryKey: ['flow', questionnaireId, version],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/flow', {
          params: { path: { questionnaire_id: questionnaireId } },
        }),
      ),
    placeholderData: (before) => before,
  });
  return (
    <Drawer open size={1180} title={t('flow.title')} onClose={onClose}>
      <Loaded query={flow}>
        {(found) =>
          found.blocks == null ? (
            <Alert type="warning" showIcon title={t('flow.hasErrors')} />
          ) : found.blocks.length === 0 ? (
            <Empty title={t('questionnaire.emptyPage')} />
          ) : (
            <FlowMap
              flow={found}
              blocks={found.blocks}
              script={script}
              begins={partId}
              onGo={(id) => {
                onClose();
                onGo(id);
              }}
            />
          )
        }
      </Loaded>
    </Drawer>
  );
}

function FlowMap({
  flow,
  blocks,
  script,
  begins,
  onGo,
}: {
  flow: Flow;
  blocks: Schemas['Block'][];
  script: Script;
  begins: string | null;
  onGo: (id: string) => void;
}) {
  const language = script.languages[0] ?? 'en';
  const { dayAndTime } = useMoments();
  const parts = useMemo(() => partsOf(script), [script]);
  const order = useMemo(() => blocks.flatMap((block) => block.parts), [blocks]);
  const [source, setSource] = useState<Source>(flow.real ? 'real' : 'rehearsed');
  const [chosen, setChosen] = useState<string | null>(begins !== null && order.includes(begins) ? begins : null);
  const counted = flow[source] ?? null;
  const placed = useMemo(() => place(blocks), [blocks]);
  const lines = useMemo(
    () => (counted ? linesOf(counted.went.ways, placed, counted.went.interviews) : []),
    [counted, placed],
  );
  const never = new Map(flow.never.map((entry) => [entry.variable, entry]));
  const reads = new Set(flow.dependences.filter((d) => d.part === chosen).map((d) => d.reads));
  const readBy = new Set(flow.dependences.filter((d) => d.reads === chosen).map((d) => d.part));
  const share = (interviews: number) => percent(interviews, counted?.went.interviews ?? 0);
  const move = (by: number) => {
    const next = order[Math.min(Math.max((chosen === null ? -1 : order.indexOf(chosen)) + by, 0), order.length - 1)];
    if (next === undefined) return;
    setChosen(next);
    document.querySelector<HTMLElement>(`.flow-cell[data-part="${next}"]`)?.focus();
  };
  const keys = (event: React.KeyboardEvent) => {
    if (event.key === 'ArrowRight' || event.key === 'ArrowDown') move(1);
    else if (event.key === 'ArrowLeft' || event.key === 'ArrowUp') move(-1);
    else if (event.key === 'Enter' && chosen !== null) onGo(chosen);
    else return;
    event.preventDefault();
  };
  const toneOf = (id: string): string => {
    const part = parts.get(id);
    const name = part?.variable ?? '';
    return [
      'flow-cell',
      id === chosen ? 'on' : '',
      reads.has(id) ? 'reads' : '',
      readBy.has(id) ? 'read-by' : '',
      never.has(name) ? 'never' : '',
    ]
      .filter(Boolean)
      .join(' ');
  };
  return (
    <div className="flow-view">
      <div className="flow-main">
        <div className="row flow-bar">
          <Segmented<Source>
            size="small"
            value={source}
            onChange={setSource}
            options={[
              { value: 'real', label: t('flow.real'), disabled: !flow.real },
              { value: 'rehearsed', label: t('flow.rehearsed'), disabled: !flow.rehearsed },
            ]}
          />
          <span className="muted small">
            {counted
              ? t('flow.interviews', { count: counted.went.interviews }) +
                (counted.at != null ? ` · ${t('flow.madeAt', { at: dayAndTime(counted.at) })}` : '')
              : t('flow.noneYet')}
          </span>
        </div>
        <div className="flow-scroll">
          <div className="flow-map" style={{ height: heightOf(placed), minWidth: widthOf(lines) }}>
            <svg aria-hidden width={widthOf(lines)} height={heightOf(placed)}>
              {lines.map((line) => (
                <g key={line.path}>
                  <path
                    d={line.path}
                    className={line.straight ? 'flow-line' : 'flow-line past'}
                    style={{ strokeWidth: line.width }}
                  />
                  <text x={line.labelX} y={line.labelY}>
                    {share(line.way.interviews)}
                  </text>
                </g>
              ))}
            </svg>
            {placed.map(({ block, top, height }) => {
              const head = parts.get(block.head);
              return (
                <div
                  key={block.parts[0]}
                  className={readBy.has(block.head) ? 'flow-block read-by' : 'flow-block'}
                  style={{ top, height, width: BLOCK_WIDTH }}
                >
                  <span className="flow-head">
                    <b>{head ? (head.wording[language] ?? head.variable) : t('flow.loose')}</b>
                    {head?.asked_when !== undefined && head.asked_when !== '' && (
                      <code className="small muted clip">{head.asked_when}</code>
                    )}
                    <span className="muted small">{block.parts.length}</span>
                  </span>
                  <span className="flow-cells">
                    {block.parts.map((id) => (
                      <button
                        key={id}
                        type="button"
                        data-part={id}
                        className={toneOf(id)}
                        title={nameOf(parts.get(id))}
                        aria-label={nameOf(parts.get(id))}
                        aria-pressed={id === chosen}
                        onKeyDown={keys}
                        onClick={() => {
                          setChosen(id);
                        }}
                        onDoubleClick={() => {
                          onGo(id);
                        }}
                      />
                    ))}
                  </span>
                </div>
              );
            })}
          </div>
        </div>
        <p className="muted small">{t('flow.keys')}</p>
      </div>
      <aside className="flow-aside">
        <Chosen
          part={chosen === null ? undefined : parts.get(chosen)}
          parts={parts}
          flow={flow}
          language={language}
          asked={chosen === null ? null : (counted?.went.asked[chosen] ?? null)}
          interviews={counted?.went.interviews ?? 0}
          onChoose={setChosen}
          onGo={onGo}
        />
        <h4>{t('flow.proof')}</h4>
        {flow.proved == null ? (
          <p className="muted small">{t('flow.notProved')}</p>
        ) : flow.never.length === 0 ? (
          <p className="small">{t('flow.everyReached', { at: dayAndTime(flow.proved) })}</p>
        ) : (
          flow.never.map((entry) => (
            <p key={`${entry.variable}${String(entry.dead_end)}`} className="rule-note small">
              <code>{entry.variable}</code> {entry.dead_end ? t('flow.deadEnd') : t('flow.neverReached')} {entry.why}
            </p>
          ))
        )}
      </aside>
    </div>
  );
}

/** The lines by identity, and the question that comes by itself after an *other*. */
function partsOf(script: Script): Map<string, Part> {
  const found = new Map(script.parts.map((part) => [part.id, part]));
  for (const part of script.parts)
    found.set(`${part.id}.other`, { ...part, variable: `${part.variable}_other`, wording: {} });
  return found;
}

const nameOf = (part: Part | undefined): string => (part ? part.variable || part.kind : '');

const percent = (some: number, all: number): string => {
  if (all === 0) return '';
  const share = (100 * some) / all;
  return share > 0 && share < 1 ? '< 1 %' : `${String(Math.round(share))} %`;
};

function Chosen({
  part,
  parts,
  flow,
  language,
  asked,
  interviews,
  onChoose,
  onGo,
}: {
  part: Part | undefined;
  parts: Map<string, Part>;
  flow: Flow;
  language: string;
  asked: number | null;
  interviews: number;
  onChoose: (id: string) => void;
  onGo: (id: string) => void;
}) {
  if (!part) return <p className="muted">{t('flow.chooseOne')}</p>;
  const list = (found: { id: string; field: string }[], none: string) =>
    found.length === 0 ? (
      <p className="muted small">{none}</p>
    ) : (
      <ul className="flow-list">
        {found.map(({ id, field }) => (
          <li key={`${id}${field}`}>
            <button
              type="button"
              className="plain-link mono"
              onClick={() => {
                onChoose(id);
              }}
            >
              {nameOf(parts.get(id))}
            </button>{' '}
            <span className="small muted">{field}</span>
          </li>
        ))}
      </ul>
    );
  return (
    <>
      <h3 className="mono">{nameOf(part)}</h3>
      <p>{part.wording[language]}</p>
      {asked !== null && interviews > 0 && (
        <p className="small">{t('flow.asked', { asked, interviews, share: percent(asked, interviews) })}</p>
      )}
      <button
        type="button"
        className="plain-link"
        onClick={() => {
          onGo(part.id);
        }}
      >
        {t('flow.openLine')}
      </button>
      <h4>{t('flow.decides')}</h4>
      {list(
        flow.dependences.filter((d) => d.reads === part.id).map((d) => ({ id: d.part, field: d.field })),
        t('questionnaire.nothing'),
      )}
      <h4>{t('flow.leadsHere')}</h4>
      {list(
        flow.dependences.filter((d) => d.part === part.id).map((d) => ({ id: d.reads, field: d.field })),
        t('flow.nothingDecides'),
      )}
    </>
  );
}
