import { useQuery } from '@tanstack/react-query';
import { Alert, Modal, Select } from 'antd';
import { useState } from 'react';
import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { Loaded } from '../../../ui/states';
import type { Script } from '../script/model';
import type { Writing } from '../script/useWriting';

interface Props {
  rows: string[][];
  script: Script;
  writing: Writing;
  onTake: (fragment: Schemas['Fragment']) => void;
  onClose: () => void;
}

const SHOWN = 8;
const COLUMNS = [
  'Variable',
  'Kind',
  'Level',
  'Code list',
  'Asked when',
  'Must hold',
  'Should hold',
  'Answer needed',
  'Unit',
  'Remark',
];

/** Cells of a spreadsheet before they become lines: what each column is taken for, what comes out, what is wrong. */
export function PasteDialog({ rows, script, writing, onTake, onClose }: Props) {
  const [headings, setHeadings] = useState<string[]>([]);
  const read = useQuery({
    queryKey: ['cells', rows, headings],
    queryFn: () => writing.readCells(rows, headings),
    placeholderData: (before) => before,
    retry: false,
  });
  const fragment = read.data?.fragment;
  const known = [...script.languages.flatMap((tag) => [`Wording [${tag}]`, `Instruction [${tag}]`]), ...COLUMNS];
  // Drawn once it is read, so that Enter takes what is seen.
  if (read.isPending) return null;
  return (
    <Modal
      open
      width={860}
      title={t('questionnaire.pasteTitle', { count: rows.length })}
      okText={t('questionnaire.pasteTake', { count: fragment?.parts.length ?? 0 })}
      okButtonProps={{ disabled: !fragment || fragment.parts.length === 0, autoFocus: true }}
      onOk={() => {
        if (fragment) onTake(fragment);
      }}
      onCancel={onClose}
    >
      <Loaded query={read}>
        {(data) => (
          <>
            <div className="paste-table">
              <table>
                <thead>
                  <tr>
                    {data.headings.map((heading, i) => (
                      <th key={i}>
                        <Select
                          size="small"
                          aria-label={t('questionnaire.pasteColumn', { number: i + 1 })}
                          value={heading}
                          style={{ width: '100%' }}
                          options={[
                            { value: '', label: t('questionnaire.pasteLeftOut') },
                            ...[...new Set([...known, ...data.headings])]
                              .filter((h) => h !== '')
                              .map((h) => ({ value: h, label: h })),
                          ]}
                          onChange={(to) => {
                            setHeadings(data.headings.map((h, j) => (j === i ? to : h === to ? '' : h)));
                          }}
                        />
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {rows.slice(data.heads ? 1 : 0, SHOWN).map((row, i) => (
                    <tr key={i}>
                      {data.headings.map((heading, j) => (
                        <td key={j} className={heading === '' ? 'muted clip' : 'clip'} title={row[j] ?? ''}>
                          {row[j] ?? ''}
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            {data.faults.length > 0 && (
              <Alert
                type="warning"
                style={{ marginTop: 12 }}
                title={data.faults.slice(0, 5).map((fault, i) => (
                  <div key={i}>
                    {t('questionnaire.pasteRow', { row: fault.row })} {fault.message} <b>{fault.mend}</b>
                  </div>
                ))}
              />
            )}
            <h3>{t('questionnaire.pasteComesOut')}</h3>
            <table className="paste-lines">
              <tbody>
                {data.fragment.parts.slice(0, SHOWN).map((part) => (
                  <tr key={part.id}>
                    <td>
                      <code>{part.variable}</code>
                    </td>
                    <td className="clip">{Object.values(part.wording)[0] ?? ''}</td>
                    <td className="muted nowrap">
                      {part.kind}
                      {part.code_list === '' ? '' : ` · ${part.code_list}`}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {data.fragment.parts.length > SHOWN && (
              <p className="muted">{t('questionnaire.pasteMore', { count: data.fragment.parts.length - SHOWN })}</p>
            )}
          </>
        )}
      </Loaded>
    </Modal>
  );
}
