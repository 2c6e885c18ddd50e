import { Button, Tabs } from 'antd';
import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import type { Kind } from '../script/model';
import { newPart, type Script } from '../script/model';
import { cellsIn } from '../sheet/clipboard';
import { EarlierQuestionnaire } from './EarlierQuestionnaire';
import { LinesGlance } from './LinesGlance';
import { ModuleShelf } from './ModuleShelf';

interface Props {
  draft: Schemas['Draft'];
  kinds: Kind[];
  language: string;
  onWrite: () => void;
  onTakeModules: (names: string[]) => Promise<void>;
  onTakeScript: (script: Script) => Promise<unknown>;
  onWorkbook: () => void;
  onPasteCells: (rows: string[][]) => void;
}

/** The empty page: four ways to begin, each with a glance of what comes out. */
export function Beginnings({
  draft,
  kinds,
  language,
  onWrite,
  onTakeModules,
  onTakeScript,
  onWorkbook,
  onPasteCells,
}: Props) {
  return (
    <div className="beginnings">
      <h2>{t('questionnaire.beginTitle')}</h2>
      <Tabs
        destroyOnHidden
        items={[
          { key: 'write', label: t('questionnaire.beginWrite'), children: <Write kinds={kinds} onWrite={onWrite} /> },
          {
            key: 'modules',
            label: t('questionnaire.beginModules'),
            children: (
              <ModuleShelf
                studyId={draft.study_id}
                kinds={kinds}
                language={language}
                taken={[]}
                onTake={onTakeModules}
                onUpdate={() => undefined}
              />
            ),
          },
          {
            key: 'workbook',
            label: t('questionnaire.beginWorkbook'),
            children: (
              <div className="begin-way">
                <p>{t('questionnaire.beginWorkbookSays')}</p>
                <Button type="primary" onClick={onWorkbook}>
                  {t('questionnaire.bringWorkbook2')}
                </Button>
                <p>{t('questionnaire.beginCellsSay')}</p>
                <textarea
                  className="paste-here"
                  rows={4}
                  aria-label={t('questionnaire.beginPasteHere')}
                  placeholder={t('questionnaire.beginPasteHere')}
                  value=""
                  onChange={() => undefined}
                  onPaste={(event) => {
                    event.preventDefault();
                    const rows = cellsIn(event.clipboardData.getData('text/plain'));
                    if (rows.length > 0) onPasteCells(rows);
                  }}
                />
              </div>
            ),
          },
          {
            key: 'earlier',
            label: t('questionnaire.beginEarlier'),
            children: <EarlierQuestionnaire own={draft.id} kinds={kinds} onTake={onTakeScript} />,
          },
        ]}
      />
    </div>
  );
}

/** How a page looks that is written: what is typed, and what is proposed from it. */
function Write({ kinds, onWrite }: { kinds: Kind[]; onWrite: () => void }) {
  const line = (level: number, kind: string, variable: string, wording: string) => ({
    ...newPart(level, kind),
    variable,
    wording: { en: wording },
  });
  const sample = [
    line(1, 'section', '', t('questionnaire.sampleSection')),
    line(2, 'whole number', 'people_live', t('questionnaire.samplePeople')),
    line(2, 'yes/no', 'school', t('questionnaire.sampleSchool')),
    line(2, 'date', 'flood', t('questionnaire.sampleFlood')),
  ];
  return (
    <div className="begin-way">
      <p>{t('questionnaire.beginWriteSays')}</p>
      <LinesGlance
        script={{ parts: sample, code_lists: [], unit_lists: [], languages: ['en'] }}
        kinds={kinds}
        most={sample.length}
      />
      <Button type="primary" autoFocus onClick={onWrite}>
        {t('questionnaire.writeFirstSection')}
      </Button>
    </div>
  );
}
