import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App, Button } from 'antd';
import { useRef } from 'react';
import { sendFile, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { messageOf } from '../../ui/states';

type Read = Schemas['BundleOut'];

/** Reads in what a phone saved to a file because it could not hand in, and gives the receipts to carry back. */
export function ReadBundle({ studyId }: { studyId: number }) {
  const input = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const { modal } = App.useApp();
  const read = useMutation({
    mutationFn: (file: File) => sendFile<Read>(`/api/studies/${String(studyId)}/bundles`, file),
    onSuccess: (found) => {
      void queries.invalidateQueries({ queryKey: ['study', studyId] });
      modal.success({ title: t('field.fileRead', { device: found.device }), content: <Told found={found} /> });
    },
    onError: (error) => {
      modal.error({ title: t('field.fileNotRead'), content: messageOf(error) });
    },
  });
  return (
    <>
      <Button
        loading={read.isPending}
        title={t('field.readFileWhy')}
        onClick={() => {
          input.current?.click();
        }}
      >
        {t('field.readFile')}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".zip"
        aria-label={t('field.phonesFile')}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) read.mutate(file);
          event.target.value = '';
        }}
      />
    </>
  );
}

function Told({ found }: { found: Read }) {
  const { arrived, revisions, known, files, not_laid_out: notLaidOut, in_hand: inHand, receipts } = found;
  return (
    <>
      <p>{t('field.fileHeld', { arrived, revisions, known, files })}</p>
      {notLaidOut > 0 && <p className="odd">{t('field.fileNotLaidOut', { count: notLaidOut })}</p>}
      {inHand > 0 && <p>{t('field.fileInHand', { count: inHand })}</p>}
      {receipts && (
        <>
          <p>{t('field.receiptsWhat', { device: receipts.device })}</p>
          <Button
            type="primary"
            href={`data:application/json,${encodeURIComponent(JSON.stringify(receipts))}`}
            download={`${receipts.device.replace(/\W+/g, '-')}.receipts.json`}
          >
            {t('field.keepReceipts')}
          </Button>
        </>
      )}
    </>
  );
}
