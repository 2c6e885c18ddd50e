import { useMutation } from '@tanstack/react-query';
import { Alert, App, Button, Input, Modal } from 'antd';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { useMoments } from '../../ui/moments';
import type { Person } from './people';

interface Props {
  studyId: number;
  person: Person;
  onClose: () => void;
}

/** A link with which somebody chooses a passphrase, once; mailed where there is an address, and shown to be handed on. */
export function InviteDialog({ studyId, person, onClose }: Props) {
  const { dayAndTime } = useMoments();
  const { message } = App.useApp();
  const make = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/studies/{study_id}/people/{member_id}/invitation', {
          params: { path: { study_id: studyId, member_id: person.id } },
        }),
      ),
  });
  const made = make.data;
  const isReset = person.way_in === 'signs in';
  return (
    <Modal
      open
      title={isReset ? t('people.resetTitle', { name: person.name }) : t('people.inviteTitle', { name: person.name })}
      footer={null}
      onCancel={onClose}
    >
      {made ? (
        <>
          <p>
            {made.mailed_to === ''
              ? t('people.handLinkOn', { until: dayAndTime(made.expires_at) })
              : t('people.mailedTo', { to: made.mailed_to, until: dayAndTime(made.expires_at) })}
          </p>
          <Input.TextArea readOnly autoSize className="mono" value={made.link} aria-label={t('people.theLink')} />
          <p>
            <Button
              onClick={() => {
                void navigator.clipboard.writeText(made.link).then(() => message.success(t('people.copied')));
              }}
            >
              {t('people.copy')}
            </Button>
          </p>
        </>
      ) : (
        <>
          <p>{isReset ? t('people.resetMeans') : t('people.inviteMeans')}</p>
          <p className="muted">
            {person.email === '' ? t('people.noEmail') : t('people.goesTo', { to: person.email })}
          </p>
          <Button
            type="primary"
            loading={make.isPending}
            onClick={() => {
              if (!make.isPending) make.mutate();
            }}
          >
            {person.email === '' ? t('people.makeLink') : t('people.sendLink')}
          </Button>
          {make.error && <Alert type="error" showIcon title={make.error.message} style={{ marginTop: 12 }} />}
        </>
      )}
    </Modal>
  );
}
