import type { ReactElement } from 'react';
import { Trans } from 'react-i18next';
import { spoken } from '../../shared/texts/catalogue';
import { language, OFFICE, type OfficeText } from './texts';

interface Props {
  k: OfficeText;
  values?: Record<string, string | number>;
  /** What the tags of the text stand for. */
  parts: Record<string, ReactElement>;
}

/** A text with a word in bold, a link or code within it. */
export function Words({ k, values = {}, parts }: Props) {
  const key: string = k;
  return (
    <Trans
      i18n={spoken}
      ns={OFFICE}
      i18nKey={key}
      tOptions={{ lng: language, ...values }}
      values={values}
      components={parts}
    />
  );
}
