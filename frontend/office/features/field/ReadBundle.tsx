import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App, Button } from 'antd';
import { useRef, useState } from 'react';
import type { Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { sendLarge } from '../../ui/sendLarge';
import { messageOf } from '../../ui/states';

type Read = Schemas['BundleOut'];

/** Reads in what a phone saved to a file because it could not hand in, and gives the receipts to carry back. */
export function ReadBundle({ studyId }: { studyId: number }) {
  const input = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const { modal } = App.useApp();
  const [sent, setSent] = useState(0);
  const read = useMutation({
    mutationFn: async (file: File) => {
      const { told } = await sendLarge<Schemas['BundleArrivingOut']>({
        address: `/api/studies/${String(studyId)}/bundle-files`,
        file,
        isWhole: (answer) => answer.told != null,
        onSent: setSent,
      });
      return told;
    },
    onSuccess: (found) => {
      if (found == null) return;
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
        {read.isPending && sent < 1 ? t('field.sendingFile', { percent: Math.floor(100 * sent) }) : t('field.readFile')}
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
