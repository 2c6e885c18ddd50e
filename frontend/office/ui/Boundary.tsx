import { Button } from 'antd';
import type { ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { useLocation } from 'react-router';

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
        <h2>{outdated ? 'Skavo was updated.' : 'This page broke off.'}</h2>
        <p className="muted">
          {outdated
            ? 'This page belongs to the version before. Load it again; what was saved is there.'
            : 'What was saved is there, and the other pages go on. Try again; if it stays, go back and tell whoever runs the server.'}
        </p>
        <div className="row">
          {outdated ? (
            <Button
              type="primary"
              onClick={() => {
                window.location.reload();
              }}
            >
              Load again
            </Button>
          ) : (
            <Button type="primary" onClick={onRetry}>
              Try again
            </Button>
          )}
          <Button
            onClick={() => {
              window.history.back();
            }}
          >
            Back
          </Button>
        </div>
      </div>
    </div>
  );
}
