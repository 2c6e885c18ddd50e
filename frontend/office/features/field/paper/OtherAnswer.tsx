// What stands on the paper where neither keyer typed it: keyed here, with the question's own codes.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { theEngine } from '../../../../shared/engine/client';
import type { Json, Screen } from '../../../../shared/engine/types';
import { t } from '../../../texts/texts';
import { Loaded } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import { KeyRow } from './KeyRow';
import { fetchRelease, type Form } from './paper';

interface Props {
  batchId: number;
  language: string;
  form: Form;
  path: string;
  onTake: (value: Json) => void;
}

const SESSION = 'settling';

export function OtherAnswer({ batchId, language, form, path, onTake }: Props) {
  const study = useStudy();
  const screen = useQuery({
    queryKey: ['settling', batchId, form.id, path],
    queryFn: () => emptyScreen(batchId, language, path),
    staleTime: Infinity,
  });
  return (
    <Loaded query={screen}>
      {(shown) => (
        <div
          className="keying"
          ref={(box) => {
            box?.querySelector('input')?.focus();
          }}
        >
          <KeyRow
            screen={shown}
            number={undefined}
            timeZone={study.time_zone}
            findCodes={(typed) => theEngine().call('findCodes', SESSION, path, typed)}
            onNext={(_path, value) => {
              onTake(value ?? null);
            }}
            onBack={() => undefined}
          />
          <p className="muted small">{t('keying.otherMeans')}</p>
          <Button
            size="small"
            onClick={() => {
              onTake(null);
            }}
          >
            {t('keying.nothingThere')}
          </Button>
        </div>
      )}
    </Loaded>
  );
}

/** The question as it is asked where nothing is known yet. */
async function emptyScreen(batchId: number, language: string, path: string): Promise<Screen> {
  const engine = theEngine();
  const release = await fetchRelease(batchId);
  await engine.call('loadRelease', release.hash, JSON.stringify(release.compiled));
  const outside = { now: new Date().toISOString(), 'enumerator.name': '' };
  await engine.call('open', SESSION, release.hash, { answers: {}, kept: {}, language }, outside);
  // A default is nobody's answer here.
  return { ...(await engine.call('show', SESSION, path)), value: null, special: null };
}
