import { Alert, Button, Progress, Spin } from 'antd';
import { useEffect, type ReactNode } from 'react';
import { Link } from 'react-router';
import { Problem } from '../../shared/api/client';
import { t } from '../texts/texts';

/** States of an interview at the office, by shape first. */
export const SHAPES: Record<string, { shape: string; tone: string; words: string }> = {
  arrived: { shape: '▲', tone: 'pine', words: t('frame.arrived') },
  accepted: { shape: '●', tone: 'pine', words: t('frame.accepted') },
  'sent back': { shape: '◁', tone: 'marigold', words: t('frame.sentBack') },
  'set aside': { shape: '×', tone: 'brick', words: t('frame.setAside') },
};

export const stateWords = (state: string): string => SHAPES[state]?.words ?? state;

export function Shape({ state }: { state: string }) {
  const { shape, tone } = SHAPES[state] ?? { shape: '?', tone: 'pine' };
  return (
    <span className={`shape ${tone}`} aria-hidden>
      {shape}
    </span>
  );
}

export function Empty({ title, children, action }: { title: string; children?: ReactNode; action?: ReactNode }) {
  return (
    <div className="empty">
      <h2>{title}</h2>
      {children !== undefined && <p className="muted">{children}</p>}
      {action}
    </div>
  );
}

export const NotFound = () => (
  <div className="page">
    <Empty title={t('frame.thereNothingThisAddress')} action={<Link to="/">{t('frame.allStudies')}</Link>} />
  </div>
);

/** What a query gives: waiting, its problem with a way to try again, or the content. */
export function Loaded<T>({
  query,
  children,
}: {
  query: { data: T | undefined; error: Error | null; refetch: () => unknown };
  children: (data: T) => ReactNode;
}) {
  if (query.data !== undefined) return <>{children(query.data)}</>;
  if (isBeingPrepared(query.error)) {
    return <BeingPrepared problem={query.error} again={query.refetch} />;
  }
  if (query.error) {
    return (
      <div className="page">
        <Alert
          type="error"
          showIcon
          title={query.error.message}
          action={
            <Button
              size="small"
              onClick={() => {
                query.refetch();
              }}
            >
              {t('frame.tryAgain')}
            </Button>
          }
        />
      </div>
    );
  }
  return (
    <div className="waiting">
      <Spin />
    </div>
  );
}

const AGAIN_AFTER_MS = 1500;

/** Whether it only takes a while: a job is at it, and says how far it is. */
export const isBeingPrepared = (error: Error | null): error is Problem =>
  error instanceof Problem && error.code === 'being_prepared';

/** How often a query asks again: as long as its answer is being prepared. */
export const againWhilePrepared = (query: { state: { error: Error | null } }): number | false =>
  isBeingPrepared(query.state.error) ? AGAIN_AFTER_MS : false;

/** How far a job is that an answer waits for. */
export function HowFar({ problem }: { problem: Problem }) {
  const { progress } = problem.details;
  return (
    <div role="status">
      <p>{problem.message}</p>
      <Progress percent={Math.round(100 * (typeof progress === 'number' ? progress : 0))} />
    </div>
  );
}

/** A page that waits for long work, until it is done. */
function BeingPrepared({ problem, again }: { problem: Problem; again: () => unknown }) {
  useEffect(() => {
    const timer = window.setInterval(() => {
      again();
    }, AGAIN_AFTER_MS);
    return () => {
      window.clearInterval(timer);
    };
  }, [again]);
  return (
    <div className="page narrow">
      <HowFar problem={problem} />
    </div>
  );
}

export const messageOf = (error: unknown): string =>
  error instanceof Problem || error instanceof Error ? error.message : String(error);
