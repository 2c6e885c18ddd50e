import { useMutation } from '@tanstack/react-query';
import { Alert, Button, Checkbox, Modal } from 'antd';
import { api, ask } from '../../../shared/api/client';
import { languageName } from '../../../shared/interview/languages';
import { t } from '../../texts/texts';
import { messageOf } from '../../ui/states';
import { newPart, type Script } from './script/model';
import type { ScriptEditor } from './script/useScript';

const CHOICES = [
  { name: 'device', what: t('paradata.device'), why: t('paradata.deviceWhy') },
  { name: 'place', what: t('paradata.place'), why: t('paradata.placeWhy') },
  { name: 'timing', what: t('paradata.timing'), why: t('paradata.timingWhy') },
] as const;

/** What the phone notes of itself about each interview, and the statement that tells respondents. */
export function ParadataDialog({
  script,
  readOnly,
  edit,
  onClose,
  onGo,
}: {
  script: Script;
  readOnly: boolean;
  edit: ScriptEditor['edit'];
  onClose: () => void;
  onGo: (id: string) => void;
}) {
  const { paradata } = script;
  const told = script.parts.find((part) => part.id === paradata.told_by);
  const word = useMutation({
    mutationFn: () => ask(api.POST('/api/paradata-telling', { body: { paradata, languages: script.languages } })),
    onSuccess: ({ wording }) => {
      edit((now) => {
        const known = now.parts.find((part) => part.id === now.paradata.told_by);
        if (known)
          return { ...now, parts: now.parts.map((part) => (part.id === known.id ? { ...part, wording } : part)) };
        const at = now.parts[0]?.kind === 'section' ? 1 : 0;
        const part = { ...newPart(at + 1, 'statement'), variable: freeName(now), wording };
        const parts = [...now.parts.slice(0, at), part, ...now.parts.slice(at)];
        return { ...now, parts, paradata: { ...now.paradata, told_by: part.id } };
      });
    },
  });
  return (
    <Modal open title={t('paradata.title')} footer={null} onCancel={onClose}>
      <p className="muted">{t('paradata.always')}</p>
      <div className="paradata-choices">
        {CHOICES.map(({ name, what, why }) => (
          <Checkbox
            key={name}
            disabled={readOnly}
            checked={paradata[name]}
            onChange={(event) => {
              edit({ ...script, paradata: { ...paradata, [name]: event.target.checked } });
            }}
          >
            {what} <span className="muted small">{why}</span>
          </Checkbox>
        ))}
      </div>
      <h3>{t('paradata.told')}</h3>
      {told ? (
        <>
          {script.languages.map((tag) => (
            <p key={tag} lang={tag} dir="auto" className="paradata-told">
              <span className="muted small">{languageName(tag)}</span> {told.wording[tag] ?? ''}
            </p>
          ))}
          <Button
            size="small"
            onClick={() => {
              onGo(told.id);
            }}
          >
            {t('paradata.goTo')}
          </Button>{' '}
        </>
      ) : (
        <p className="doubt">{t('paradata.notTold')}</p>
      )}
      {!readOnly && (
        <Button
          size="small"
          type={told ? 'default' : 'primary'}
          loading={word.isPending}
          onClick={() => {
            word.mutate();
          }}
        >
          {told ? t('paradata.wordAgain') : t('paradata.putIn')}
        </Button>
      )}
      {word.error && <Alert type="error" showIcon title={messageOf(word.error)} />}
    </Modal>
  );
}

function freeName(script: Script): string {
  const taken = new Set(script.parts.map((part) => part.variable));
  let name = 'note_on_recording';
  for (let n = 2; taken.has(name); n++) name = `note_on_recording_${String(n)}`;
  return name;
}
