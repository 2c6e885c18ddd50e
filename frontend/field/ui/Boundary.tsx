import { useState, type ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { saveAll } from '../store/bundle';
import { offerFile } from '../store/offering';
import { useTexts } from '../texts/texts';

/** Around every page: what goes wrong in one is said, with the ways out of it. */
export function Boundary({ children, at }: { children: ReactNode; at: string }) {
  return (
    <ErrorBoundary
      resetKeys={[at]}
      onError={(error) => {
        console.error(error);
      }}
      fallbackRender={({ resetErrorBoundary }) => <Broken onRetry={resetErrorBoundary} />}
    >
      {children}
    </ErrorBoundary>
  );
}

function Broken({ onRetry }: { onRetry: () => void }) {
  const { t } = useTexts();
  return (
    <div className="fill">
      <main className="fill-body">
        <h1 className="question-wording">{t('broken')}</h1>
        <p role="alert">{t('brokenWhy')}</p>
        <div className="stack">
          <button type="button" className="wide-button" onClick={onRetry}>
            {t('tryAgain')}
          </button>
          <button
            type="button"
            className="wide-button secondary"
            onClick={() => {
              window.location.assign('/field/');
            }}
          >
            {t('backToToday')}
          </button>
          <SaveAll />
        </div>
      </main>
    </div>
  );
}

/** Saves all that the phone carries to a file. */
export function SaveAll() {
  const { t } = useTexts();
  const [state, setState] = useState('');
  const save = async () => {
    setState(t('gathering'));
    try {
      const bundle = await saveAll();
      offerFile(bundle.content, bundle.name);
      setState(t('saved', { name: bundle.name, count: bundle.interviews }));
    } catch (error) {
      console.error(error);
      setState(t('notSaved'));
    }
  };
  return (
    <>
      <button type="button" className="wide-button secondary" onClick={() => void save()}>
        {t('saveAll')}
      </button>
      {state !== '' && (
        <p className="quiet" role="status">
          {state}
        </p>
      )}
    </>
  );
}
