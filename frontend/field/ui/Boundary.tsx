import { useState, type ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { offer, saveAll } from '../store/bundle';

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
  return (
    <div className="fill">
      <main className="fill-body">
        <h1 className="question-wording">This page broke off.</h1>
        <p role="alert">
          Every answer up to the last one is kept. Try again; if it stays, go back to Today, or save all interviews to a
          file and give it to the office.
        </p>
        <div className="stack">
          <button type="button" className="wide-button" onClick={onRetry}>
            Try again
          </button>
          <button
            type="button"
            className="wide-button secondary"
            onClick={() => {
              window.location.assign('/field/');
            }}
          >
            Back to Today
          </button>
          <SaveAll />
        </div>
      </main>
    </div>
  );
}

/** Saves all that the phone carries to a file. */
export function SaveAll() {
  const [state, setState] = useState('');
  const save = async () => {
    setState('Gathering the interviews …');
    try {
      const bundle = await saveAll();
      offer(bundle);
      setState(
        `${String(bundle.interviews)} ${bundle.interviews === 1 ? 'interview is' : 'interviews are'} in ${bundle.name}. They stay on this phone too; the office reads the file in at Interviews.`,
      );
    } catch (error) {
      console.error(error);
      setState('The file could not be made. Free some space and try again; nothing on the phone was changed.');
    }
  };
  return (
    <>
      <button type="button" className="wide-button secondary" onClick={() => void save()}>
        Save all interviews to a file
      </button>
      {state !== '' && (
        <p className="quiet" role="status">
          {state}
        </p>
      )}
    </>
  );
}
