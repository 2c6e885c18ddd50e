import { Drawer, Tabs } from 'antd';
import { t } from '../../../texts/texts';
import { ProofTab } from './ProofTab';
import type { FiguresTab } from './RehearsalPane';
import { RehearsalTab } from './RehearsalTab';
import { TestsTab } from './TestsTab';
import { useRehearsed } from './useRehearsed';

interface Props {
  questionnaireId: number;
  studyId: number;
  tab: FiguresTab;
  readOnly: boolean;
  onTab: (tab: FiguresTab) => void;
  onClose: () => void;
  onGo: (variable: string) => void;
  /** Open a test in the phone pane. */
  onOpenTest: (name: string) => void;
}

/** All figures of the newest rehearsal and proof, and the test interviews that are kept. */
export function RehearsalDrawer({ questionnaireId, studyId, tab, readOnly, onTab, onClose, onGo, onOpenTest }: Props) {
  const { rehearsal, proof } = useRehearsed(studyId, questionnaireId, true);
  return (
    <Drawer open size={760} title={t('questionnaire.rehearsalProof')} onClose={onClose}>
      <Tabs
        activeKey={tab}
        onChange={(key) => {
          onTab(key as FiguresTab);
        }}
        items={[
          {
            key: 'rehearsal',
            label: t('questionnaire.rehearsal'),
            children: <RehearsalTab done={rehearsal.done} onGo={onGo} />,
          },
          { key: 'proof', label: t('questionnaire.proof'), children: <ProofTab done={proof.done} onGo={onGo} /> },
          {
            key: 'tests',
            label: t('questionnaire.testInterviews'),
            children: <TestsTab {...{ questionnaireId, readOnly, onOpenTest }} />,
          },
        ]}
      />
    </Drawer>
  );
}
