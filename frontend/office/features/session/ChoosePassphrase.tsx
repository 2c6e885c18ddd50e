import { Form, Input } from 'antd';
import { t } from '../../texts/texts';

/** A new passphrase, twice. What is too easily guessed is said by the server. */
export const ChoosePassphrase = () => (
  <>
    <Form.Item
      name="passphrase"
      label={t('session.newPassphrase')}
      extra={t('session.passphraseExtra')}
      rules={[{ required: true, min: 12, message: t('session.passphraseShort') }]}
    >
      <Input.Password autoComplete="new-password" maxLength={256} />
    </Form.Item>
    <Form.Item
      name="again"
      label={t('session.passphraseAgain')}
      dependencies={['passphrase']}
      rules={[
        ({ getFieldValue }) => ({
          validator: (_, value: unknown) =>
            value === getFieldValue('passphrase')
              ? Promise.resolve()
              : Promise.reject(new Error(t('session.passphraseDiffers'))),
        }),
      ]}
    >
      <Input.Password autoComplete="new-password" maxLength={256} />
    </Form.Item>
  </>
);
