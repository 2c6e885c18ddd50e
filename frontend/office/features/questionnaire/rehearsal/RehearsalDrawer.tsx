import { Alert, Drawer, Tabs } from 'antd';
import { useState } from 'react';
import { ProofTab } from './ProofTab';
import { RehearsalTab } from './RehearsalTab';
import { TestsTab } from './TestsTab';
import { t } from '../../../texts/texts';

interface Props {
  questionnaireId: number;
  studyId: number;
  waiting: boolean;
  errors: number;
  onClose: () => void;
  onGo: (variable: string) => void;
}

/** Made-up interviews and the proof of what can never be reached: ordered here, worked on in the background. */
export function RehearsalDrawer({ questionnaireId, studyId, waiting, errors, onClose, onGo }: Props) {
  const [tab, setTab] = useState('rehearsal');
  const blocked =
    errors > 0 ? t('questionnaire.mendErrorsFirstWhat') : waiting ? t('questionnaire.lastChangeBeingSaved') : '';
  return (
    <Drawer open size={760} title={t('questionnaire.rehearsalProof')} onClose={onClose}>
      {blocked !== '' && <Alert type="warning" title={blocked} style={{ marginBottom: 12 }} />}
      <Tabs
        activeKey={tab}
        onChange={setTab}
        items={[
          {
            key: 'rehearsal',
            label: t('questionnaire.rehearsal'),
            children: <RehearsalTab {...{ questionnaireId, studyId, onGo }} blocked={blocked !== ''} />,
          },
          {
            key: 'proof',
            label: t('questionnaire.proof'),
            children: <ProofTab {...{ questionnaireId, studyId, onGo }} blocked={blocked !== ''} />,
          },
          {
            key: 'tests',
            label: t('questionnaire.testInterviews'),
            children: <TestsTab questionnaireId={questionnaireId} />,
          },
        ]}
      />
    </Drawer>
  );
}
