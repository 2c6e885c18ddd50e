import { Button, Checkbox, Drawer, Input } from 'antd';
import { useState } from 'react';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import type { Code, CodeList, Finding, Script } from '../script/model';
import { withListNamed } from './newLists';
import { t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';

interface Props {
  name: string;
  script: Script;
  findings: Finding[];
  readOnly: boolean;
  onClose: () => void;
  onChange: (script: Script, what: string) => void;
  onNamed: (name: string) => void;
}

const emptyCode = (): Code => ({ code: '', label: {}, specify: false, exclusive: false, media: [], attributes: {} });

/** A code list: codes, labels in every language, attributes for filters. Rows pasted from a spreadsheet become codes. */
export function CodeListDrawer({ name, script, findings, readOnly, onClose, onChange, onNamed }: Props) {
  const [attribute, setAttribute] = useState('');
  const list: CodeList = script.code_lists.find((l) => l.name === name) ?? { name, codes: [] };
  const attributes = [...new Set(list.codes.flatMap((c) => Object.keys(c.attributes)))];
  const used = script.parts.filter((p) => p.code_list === name && name !== '').map((p) => p.variable);
  const own = findings.filter((f) => f.code_list === name);

  const put = (codes: Code[], what: string) => {
    const known = script.code_lists.some((l) => l.name === name);
    const lists = known
      ? script.code_lists.map((l) => (l.name === name ? { ...l, codes } : l))
      : [...script.code_lists, { name, codes }];
    onChange({ ...script, code_lists: lists }, `list.${name}.${what}`);
  };
  const set = (i: number, what: string, changed: Partial<Code>) => {
    put(
      list.codes.map((c, j) => (j === i ? { ...c, ...changed } : c)),
      `${String(i)}.${what}`,
    );
  };
  const rename = (to: string) => {
    if (to === '' || to === name || script.code_lists.some((l) => l.name === to)) return;
    onChange(withListNamed(script, name, to), 'list.name');
    onNamed(to);
  };
  const paste = (text: string) => {
    const rows = text
      .split(/\r?\n/)
      .map((row) => row.split('\t'))
      .filter((row) => (row[0] ?? '').trim() !== '');
    if (rows.length < 2 && (rows[0]?.length ?? 0) < 2) return false;
    const added = rows.map(([code = '', ...labels]) => ({
      ...emptyCode(),
      code: code.trim(),
      label: Object.fromEntries(script.languages.map((tag, i) => [tag, (labels[i] ?? labels[0] ?? code).trim()])),
    }));
    put([...list.codes.filter((c) => c.code !== ''), ...added], 'paste');
    return true;
  };

  return (
    <Drawer
      open
      size={Math.min(980, 420 + 170 * script.languages.length)}
      title={
        <>
          <Words k="questionnaire.codeList" values={{ name }} parts={{ code: <code /> }} />
        </>
      }
      onClose={onClose}
    >
      <div className="row" style={{ marginBottom: 12 }}>
        <Input
          aria-label={t('common.name')}
          prefix={<span className="muted">{t('common.name')}</span>}
          className="mono"
          style={{ maxWidth: 300 }}
          disabled={readOnly}
          key={name}
          defaultValue={name}
          onBlur={(event) => {
            rename(event.target.value.trim());
            event.target.value = name;
          }}
          onPressEnter={(event) => {
            event.currentTarget.blur();
          }}
        />
        <span className="muted small">
          {used.length === 0 ? t('questionnaire.notUsedYet') : t('questionnaire.used', { used: used.join(', ') })}
        </span>
      </div>
      {own.map((f, i) => (
        <p key={i} className="rule-note">
          {f.message} <b>{f.mend}</b>
        </p>
      ))}
      <table className="codes-table">
        <thead>
          <tr>
            <th>{t('questionnaire.code')}</th>
            {script.languages.map((tag) => (
              <th key={tag}>{languageName(tag)}</th>
            ))}
            {attributes.map((a) => (
              <th key={a}>
                <code>{a}</code>
              </th>
            ))}
            <th title={t('questionnaire.questionWhichOtherFollows')}>{t('questionnaire.specify')}</th>
            <th title={t('questionnaire.goesNoOtherCode')}>{t('questionnaire.exclusive')}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {list.codes.map((code, i) => (
            <tr key={i}>
              <td>
                <Input
                  className="mono"
                  aria-label={t('questionnaire.code2', { i: i + 1 })}
                  disabled={readOnly}
                  value={code.code}
                  onChange={(event) => {
                    set(i, 'code', { code: event.target.value });
                  }}
                  onPaste={(event) => {
                    if (paste(event.clipboardData.getData('text'))) event.preventDefault();
                  }}
                />
              </td>
              {script.languages.map((tag) => (
                <td key={tag}>
                  <Input
                    aria-label={`${languageName(tag)} ${String(i + 1)}`}
                    disabled={readOnly}
                    dir={directionOf(tag)}
                    value={code.label[tag] ?? ''}
                    onChange={(event) => {
                      set(i, tag, { label: { ...code.label, [tag]: event.target.value } });
                    }}
                    onPressEnter={() => {
                      if (i === list.codes.length - 1) put([...list.codes, emptyCode()], 'add');
                    }}
                  />
                </td>
              ))}
              {attributes.map((a) => (
                <td key={a}>
                  <Input
                    className="mono"
                    disabled={readOnly}
                    value={code.attributes[a] ?? ''}
                    onChange={(event) => {
                      set(i, a, { attributes: { ...code.attributes, [a]: event.target.value } });
                    }}
                  />
                </td>
              ))}
              <td className="centre">
                <Checkbox
                  aria-label={t('questionnaire.specify')}
                  disabled={readOnly}
                  checked={code.specify}
                  onChange={(event) => {
                    set(i, 'specify', { specify: event.target.checked });
                  }}
                />
              </td>
              <td className="centre">
                <Checkbox
                  aria-label={t('questionnaire.exclusive')}
                  disabled={readOnly}
                  checked={code.exclusive}
                  onChange={(event) => {
                    set(i, 'exclusive', { exclusive: event.target.checked });
                  }}
                />
              </td>
              <td>
                {!readOnly && (
                  <Button
                    type="text"
                    size="small"
                    aria-label={t('questionnaire.remove', { code: code.code })}
                    onClick={() => {
                      put(
                        list.codes.filter((_, j) => j !== i),
                        'remove',
                      );
                    }}
                  >
                    ×
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {list.codes.length === 0 && <p className="muted">{t('questionnaire.noCodesYetAdd')}</p>}
      {!readOnly && (
        <div className="row" style={{ marginTop: 12 }}>
          <Button
            onClick={() => {
              put([...list.codes, emptyCode()], 'add');
            }}
          >
            {t('questionnaire.addCode')}
          </Button>
          <span className="grow" />
          <Input
            style={{ width: 160 }}
            className="mono"
            placeholder={t('questionnaire.attribute')}
            value={attribute}
            onChange={(event) => {
              setAttribute(event.target.value.toLowerCase().replace(/[^a-z0-9_]/g, '_'));
            }}
          />
          <Button
            disabled={attribute === '' || list.codes.length === 0}
            onClick={() => {
              put(
                list.codes.map((c) => ({
                  ...c,
                  attributes: { ...c.attributes, [attribute]: c.attributes[attribute] ?? '' },
                })),
                'attribute',
              );
              setAttribute('');
            }}
          >
            {t('questionnaire.addAttribute')}
          </Button>
        </div>
      )}
    </Drawer>
  );
}
