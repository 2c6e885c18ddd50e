import { createContext, useContext } from 'react';
import type { SyncMode } from './sync';

export interface SyncStatus {
  online: boolean;
  busy: boolean;
  problem: string;
  since: Date;
}

export const SyncContext = createContext<SyncStatus & { run: (mode?: SyncMode) => Promise<boolean> }>({
  online: true,
  busy: false,
  problem: '',
  since: new Date(),
  run: () => Promise.resolve(false),
});

export const useSync = () => useContext(SyncContext);
