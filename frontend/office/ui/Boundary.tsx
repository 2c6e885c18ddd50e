import { Button } from 'antd';
import type { ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { useLocation } from 'react-router';
import { t } from '../texts/texts';

/** A page's own files are gone once the server was updated: the page has to be loaded anew. */
const isOutdated = (error: unknown): boolean =>
  error instanceof Error && /dynamically imported module|Importing a module script failed|preload/i.test(error.message);

/** Around every page: what goes wrong in one is said, with the ways out of it; the rest of the desk stays. */
export function Boundary({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary
      resetKeys={[pathname]}
      onError={(error) => {
        console.error(error);
      }}
      fallbackRender={({ error, resetErrorBoundary }) => (
        <Broken outdated={isOutdated(error)} onRetry={resetErrorBoundary} />
      )}
    >
      {children}
    </ErrorBoundary>
  );
}

function Broken({ outdated, onRetry }: { outdated: boolean; onRetry: () => void }) {
  return (
    <div className="page">
      <div className="empty" role="alert">
        <h2>{outdated ? t('frame.skavoWasUpdated') : t('frame.thisPageBrokeOff')}</h2>
        <p className="muted">{outdated ? t('frame.thisPageBelongsVersion') : t('frame.whatWasSavedThere')}</p>
        <div className="row">
          {outdated ? (
            <Button
              type="primary"
              onClick={() => {
                window.location.reload();
              }}
            >
              {t('frame.loadAgain')}
            </Button>
          ) : (
            <Button type="primary" onClick={onRetry}>
              {t('frame.tryAgain')}
            </Button>
          )}
          <Button
            onClick={() => {
              window.history.back();
            }}
          >
            {t('frame.back')}
          </Button>
        </div>
      </div>
    </div>
  );
}
