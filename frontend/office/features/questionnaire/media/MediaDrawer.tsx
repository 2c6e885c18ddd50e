// The media shelf: every picture, sound and film of the study, where it is used, and what is wrong with it.
import { Button, Drawer, Input, Upload } from 'antd';
import { useEffect, useState } from 'react';
import type { Schemas } from '../../../../shared/api/client';
import { api, ask } from '../../../../shared/api/client';
import { languageName } from '../../../../shared/interview/languages';
import { MediaShown } from '../../../../shared/interview/media';
import { t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { Sentence, Word } from '../../../ui/Sentence';
import { Empty, Loaded } from '../../../ui/states';
import type { Script } from '../script/model';
import { Thumbnail } from './Thumbnail';
import { contentOf, factsOf, sizeWords, sortOf, useShelf, type ShelfFile } from './useShelf';
import './media.css';

interface Props {
  studyId: number;
  questionnaireId: number;
  script: Script;
  readOnly: boolean;
  onClose: () => void;
  onGo: (partId: string) => void;
}

type Missing = Schemas['MissingOut'];
type Use = Schemas['UseOut'];
type Sort = 'all' | 'picture' | 'sound' | 'film';
type State = 'any' | 'odd' | 'unused' | 'missing';

const ACCEPTED = '.jpg,.jpeg,.png,.webp,.gif,.mp3,.ogg,.opus,.m4a,.wav,.flac,.mp4,.webm,.zip';

export function MediaDrawer({ studyId, questionnaireId, script, readOnly, onClose, onGo }: Props) {
  const { shelf, changed, bringIn, bringing, failed } = useShelf(studyId);
  useEffect(() => {
    void changed();
  }, [changed]);
  const [chosen, setChosen] = useState<string | null>(null);
  const [sort, setSort] = useState<Sort>('all');
  const [state, setState] = useState<State>('any');
  const [wanted, setWanted] = useState('');
  return (
    <Drawer open size={1180} title={t('media.title')} onClose={onClose}>
      <Loaded query={shelf}>
        {({ files, missing }) => {
          const fits = (file: ShelfFile) =>
            (sort === 'all' || sortOf(file) === sort) &&
            (state === 'any' || (state === 'odd' ? file.odd !== '' : state === 'unused' && file.uses.length === 0)) &&
            `${file.name} ${file.uses.map((u) => u.place).join(' ')}`.toLowerCase().includes(wanted.toLowerCase());
          const shown = files.filter(fits);
          const lacking = state === 'any' || state === 'missing' ? missing : [];
          const file = files.find((f) => f.name === chosen) ?? null;
          const onPhones = files.reduce((sum, f) => sum + f.phone_bytes, 0);
          const whole = files.reduce((sum, f) => sum + f.bytes, 0);
          const toLookAt = missing.length + files.filter((f) => f.odd !== '' || f.uses.length === 0).length;
          return (
            <div className="media">
              <div className="media-main">
                <div className="row">
                  <span className="muted small grow">
                    {t('media.sum', {
                      files: t('media.files', { count: files.length }),
                      whole: sizeWords(whole),
                      phones: sizeWords(onPhones),
                    })}
                  </span>
                  {files.length > 0 && (
                    <Button href={`/api/studies/${String(studyId)}/media.zip`} download>
                      {t('media.takeOut')}
                    </Button>
                  )}
                  {!readOnly && (
                    <Upload
                      multiple
                      accept={ACCEPTED}
                      showUploadList={false}
                      beforeUpload={(one, all) => {
                        if (one === all[0])
                          void bringIn(all).then((names) => {
                            setChosen(names[0] ?? null);
                          });
                        return false;
                      }}
                    >
                      <Button type="primary" loading={bringing !== null}>
                        {bringing === null ? t('media.bringIn') : t('media.bringing', { ...bringing })}
                      </Button>
                    </Upload>
                  )}
                </div>
                {files.length + missing.length === 0 ? (
                  <Empty title={t('media.none')}>{t('media.noneWhat')}</Empty>
                ) : (
                  <>
                    <Sentence
                      side={
                        <Input
                          allowClear
                          style={{ width: 200 }}
                          placeholder={t('media.find')}
                          aria-label={t('media.find')}
                          value={wanted}
                          onChange={(event) => {
                            setWanted(event.target.value);
                          }}
                        />
                      }
                    >
                      {t('media.show')}{' '}
                      <Word
                        label={t('media.sort')}
                        value={sort}
                        options={[
                          { value: 'all', label: t('media.everything') },
                          { value: 'picture', label: t('media.pictures') },
                          { value: 'sound', label: t('media.sounds') },
                          { value: 'film', label: t('media.films') },
                        ]}
                        onChange={(value) => {
                          setSort(value as Sort);
                        }}
                      />{' '}
                      {t('media.that')}{' '}
                      <Word
                        label={t('media.state')}
                        value={state}
                        options={[
                          { value: 'any', label: t('media.any') },
                          { value: 'odd', label: t('media.odd') },
                          { value: 'unused', label: t('media.unused') },
                          { value: 'missing', label: t('media.missing') },
                        ]}
                        onChange={(value) => {
                          setState(value as State);
                        }}
                      />{' '}
                      · {shown.length}
                      {toLookAt > 0 && `, ${t('media.toLookAt', { count: toLookAt })}`}
                    </Sentence>
                    <div className="media-cards">
                      {lacking.map((entry) => (
                        <MissingCard
                          key={entry.name}
                          entry={entry}
                          readOnly={readOnly}
                          onBring={(one) => void bringIn([one], entry.name)}
                        />
                      ))}
                      {shown.map((one) => (
                        <button
                          key={one.name}
                          type="button"
                          className={one === file ? 'media-card on' : 'media-card'}
                          aria-pressed={one === file}
                          onClick={() => {
                            setChosen(one.name);
                          }}
                        >
                          <Thumbnail file={one} />
                          <b>{one.name}</b>
                          <span className="small muted">{placesWords(one.uses)}</span>
                          <span className={one.odd === '' ? 'small muted' : 'small doubt'}>
                            {factsOf(one)}
                            {one.odd === '' ? '' : `: ${one.odd}`}
                          </span>
                        </button>
                      ))}
                    </div>
                    {shown.length + lacking.length === 0 && <p className="muted">{t('media.nothing')}</p>}
                  </>
                )}
              </div>
              {file && (
                <Shown
                  key={`${file.name} ${String(file.version)}`}
                  file={file}
                  script={script}
                  readOnly={readOnly}
                  onReplace={(one) => void bringIn([one], file.name)}
                  onSay={(said) => {
                    ask(
                      api.PUT('/api/media/{shelf_file_id}', {
                        params: { path: { shelf_file_id: file.id } },
                        body: { said, version: file.version },
                      }),
                    )
                      .then(changed)
                      .catch(failed);
                  }}
                  onRemove={() => {
                    ask(api.DELETE('/api/media/{shelf_file_id}', { params: { path: { shelf_file_id: file.id } } }))
                      .then(changed)
                      .catch(failed);
                  }}
                  onGo={(use) => {
                    if (use.questionnaire_id !== questionnaireId || use.part_id === '') return;
                    onClose();
                    onGo(use.part_id);
                  }}
                />
              )}
            </div>
          );
        }}
      </Loaded>
    </Drawer>
  );
}

const placesWords = (uses: Use[]): string => {
  const [first] = uses;
  if (!first) return t('media.usedNowhere');
  return uses.length === 1 ? first.place : t('media.places', { place: first.place, count: uses.length });
};

function MissingCard({
  entry,
  readOnly,
  onBring,
}: {
  entry: Missing;
  readOnly: boolean;
  onBring: (file: File) => void;
}) {
  return (
    <div className="media-card lacking">
      <span className="thumbnail">?</span>
      <b>{entry.name}</b>
      <span className="small muted">{placesWords(entry.uses)}</span>
      <span className="small bad">
        {t('media.noFileYet', { languages: entry.languages.map(languageName).join(', ') })}
      </span>
      {!readOnly && (
        <Upload
          accept={ACCEPTED.replace(',.zip', '')}
          showUploadList={false}
          beforeUpload={(one) => {
            onBring(one);
            return false;
          }}
        >
          <Button size="small">{t('media.bringIn')}</Button>
        </Upload>
      )}
    </div>
  );
}

function Shown({
  file,
  script,
  readOnly,
  onReplace,
  onSay,
  onRemove,
  onGo,
}: {
  file: ShelfFile;
  script: Script;
  readOnly: boolean;
  onReplace: (file: File) => void;
  onSay: (said: Record<string, string>) => void;
  onRemove: () => void;
  onGo: (use: Use) => void;
}) {
  const [asOnPhones, setAsOnPhones] = useState(true);
  const [said, setSaid] = useState(file.said);
  const small = file.phone_bytes < file.bytes;
  const first = script.languages[0] ?? 'en';
  const { dayAndTime } = useMoments();
  return (
    <aside className="media-shown">
      <MediaShown
        file={{ url: contentOf(file, asOnPhones ? 'phone' : 'whole'), type: file.type, said: said[first] ?? '' }}
      />
      <h3>{file.name}</h3>
      <p className="small">
        {factsOf(file)}
        {small && `, ${t('media.onPhones', { size: sizeWords(file.phone_bytes) })}`}
        <br />
        <span className="muted">{t('media.by', { by: file.created_by, at: dayAndTime(file.created_at) })}</span>
      </p>
      {file.odd !== '' && <p className="rule-note">{t('media.oddSize', { others: file.odd })}</p>}
      <h4>{t('media.usedIn')}</h4>
      {file.uses.length === 0 && <p className="muted small">{t('media.usedNowhere')}</p>}
      <ul className="media-uses">
        {file.uses.map((use, i) => (
          <li key={i}>
            <button
              type="button"
              className="plain-link mono"
              onClick={() => {
                onGo(use);
              }}
            >
              {use.place}
            </button>{' '}
            <span className="small muted">{use.questionnaire}</span>
          </li>
        ))}
      </ul>
      <h4>{t('media.said')}</h4>
      {script.languages.map((tag) => (
        <Input
          key={tag}
          size="small"
          style={{ marginBottom: 4 }}
          aria-label={`${t('media.said')} ${languageName(tag)}`}
          prefix={<span className="muted small">{languageName(tag)}</span>}
          disabled={readOnly}
          value={said[tag] ?? ''}
          onChange={(event) => {
            setSaid({ ...said, [tag]: event.target.value });
          }}
          onBlur={() => {
            if (JSON.stringify(said) !== JSON.stringify(file.said)) onSay(said);
          }}
        />
      ))}
      <div className="row media-acts">
        {!readOnly && (
          <Upload
            accept={ACCEPTED.replace(',.zip', '')}
            showUploadList={false}
            beforeUpload={(one) => {
              onReplace(one);
              return false;
            }}
          >
            <Button>
              {file.uses.length > 1 ? t('media.replaceAll', { count: file.uses.length }) : t('media.replace')}
            </Button>
          </Upload>
        )}
        {small && (
          <Button
            onClick={() => {
              setAsOnPhones(!asOnPhones);
            }}
          >
            {asOnPhones ? t('media.asBroughtIn') : t('media.asOnPhone')}
          </Button>
        )}
        {!readOnly && (
          <Button danger type="text" onClick={onRemove}>
            {t('media.remove')}
          </Button>
        )}
      </div>
    </aside>
  );
}
