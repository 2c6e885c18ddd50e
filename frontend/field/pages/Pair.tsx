import { useEffect, useState, type SyntheticEvent } from 'react';
import { hasCamera, Viewfinder } from '../../shared/scanning/Viewfinder';
import { Problem } from '../../shared/api/client';
import { db } from '../store/db';
import * as server from '../store/server';
import { problemWords } from '../texts/problems';
import { TROUBLES, troubleOf } from '../store/troubles';
import { useTexts } from '../texts/texts';
import { Unpaired } from '../ui/Unpaired';

const codeIn = (text: string): string => /#pair=([A-Z0-9-]+)/i.exec(text)?.[1] ?? text;
const keyMarkIn = (text: string): string | undefined => /[#&]key=([0-9a-f]{16})/.exec(text)?.[1];

/** Pairing: by opening the address in the code, by a picture of it, or by typing the eight letters. */
export function Pair() {
  const { t } = useTexts();
  const [code, setCode] = useState(() => codeIn(window.location.hash === '' ? '' : window.location.hash));
  const [keyMark, setKeyMark] = useState(() => keyMarkIn(window.location.hash));
  const [name, setName] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const [looking, setLooking] = useState(false);
  const [camera, setCamera] = useState(hasCamera);

  useEffect(() => {
    // The address may be opened while this page is open already.
    const opened = () => {
      setCode(codeIn(window.location.hash));
      setKeyMark(keyMarkIn(window.location.hash));
    };
    window.addEventListener('hashchange', opened);
    return () => {
      window.removeEventListener('hashchange', opened);
    };
  }, []);

  const pair = async (event: SyntheticEvent) => {
    event.preventDefault();
    setBusy(true);
    setProblem('');
    try {
      const paired = await server.pair(code, name.trim() === '' ? 'phone' : name.trim());
      window.history.replaceState(null, '', '/field/');
      const now = new Date().toISOString();
      await db.device.put({ id: 'me', ...paired, keyMark, pairedAt: now, heardAt: now });
    } catch (error) {
      setProblem(error instanceof Problem ? problemWords(error, t) : t(TROUBLES[troubleOf(error)]));
      setBusy(false);
    }
  };

  const take = (found: string | null) => {
    setLooking(false);
    if (found === null) setProblem(t('noCode'));
    else {
      setProblem('');
      setCode(codeIn(found));
      setKeyMark(keyMarkIn(found));
    }
  };

  const readPicture = async (file: File | undefined) => {
    if (!file) return;
    // The reader is fetched only by who takes a picture of the code.
    const found = await import('../../shared/scanning/codeReader')
      .then(({ codeInPicture }) => codeInPicture(file))
      .catch(() => null);
    take(found);
  };

  return (
    <Unpaired title={t('pairTitle')}>
      {window.location.search === '?forgotten' && <p className="note should">{t('forgotten')}</p>}
      <p>{t('pairWhat')}</p>
      {looking && (
        <Viewfinder
          label={t('scan')}
          lamp={t('lamp')}
          onCode={take}
          onNone={() => {
            setLooking(false);
            setCamera(false);
            setProblem(t('noCamera'));
          }}
        />
      )}
      {camera && (
        <button
          type="button"
          className="wide-button secondary"
          onClick={() => {
            setLooking(!looking);
          }}
        >
          {looking ? t('close') : t('scan')}
        </button>
      )}
      <label className={camera ? 'plain-button' : 'wide-button secondary'}>
        {t(camera ? 'scanPicture' : 'scan')}
        <input
          type="file"
          accept="image/*"
          capture={camera ? undefined : 'environment'}
          className="visually-hidden"
          onChange={(event) => void readPicture(event.target.files?.[0])}
        />
      </label>
      <form onSubmit={(event) => void pair(event)}>
        <label>
          {t('orType')}
          <input
            name="code"
            className="typed mono"
            placeholder="ABCD-EFGH"
            value={code}
            autoCapitalize="characters"
            autoComplete="off"
            onChange={(event) => {
              setCode(event.target.value.toUpperCase());
            }}
          />
        </label>
        <label>
          {t('phoneName')}
          <input
            name="device"
            className="typed"
            placeholder="phone 01"
            value={name}
            autoComplete="off"
            onChange={(event) => {
              setName(event.target.value);
            }}
          />
        </label>
        {problem !== '' && (
          <p className="note must" role="alert">
            {problem}
          </p>
        )}
        <button type="submit" className="wide-button" disabled={busy || code.replace(/[^A-Z0-9]/g, '').length < 8}>
          {busy ? t('pairing') : t('pair')}
        </button>
      </form>
    </Unpaired>
  );
}
