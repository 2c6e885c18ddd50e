import { createContext, useContext } from 'react';

export interface SyncStatus {
  online: boolean;
  busy: boolean;
  problem: string;
  since: Date;
}

export const SyncContext = createContext<SyncStatus & { run: () => Promise<void> }>({
  online: true,
  busy: false,
  problem: '',
  since: new Date(),
  run: () => Promise.resolve(),
});

export const useSync = () => useContext(SyncContext);
