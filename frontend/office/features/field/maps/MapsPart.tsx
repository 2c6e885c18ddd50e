import { App, Button, Typography, Upload } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, ask } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { Empty, Loaded, messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { useFieldChange } from '../phones';
import { sizeWords } from '../../questionnaire/media/useShelf';
import { bringIn, freeName, useMaps, type MapSheet } from './useMaps';

const Shown = lazy(() => import('./Shown'));
const FORMS = '.geojson,.json,.mbtiles,.pmtiles';

/** The maps that phones hold: brought in, looked at, taken away. */
export default function MapsPart() {
  const study = useStudy();
  const may = useMay();
  const { message } = App.useApp();
  const maps = useMaps(study.id);
  const [params, setParams] = useSearchParams();
  /** The file that is on its way, and the share of it that is there. */
  const [coming, setComing] = useState<{ name: string; share: number } | null>(null);
  const bring = useFieldChange(study.id, (file: File) => {
    const name = freeName(
      file.name,
      (maps.data ?? []).map((sheet) => sheet.name),
    );
    return bringIn(study.id, name, file, (share) => {
      setComing({ name: file.name, share });
    });
  });
  const take = (file: File) => {
    if (coming !== null) return;
    setComing({ name: file.name, share: 0 });
    bring
      .mutateAsync(file)
      .then((sheet) => {
        if (sheet != null) setParams({ map: String(sheet.id) });
      })
      .catch((error: unknown) => {
        message.error({ content: `${file.name}: ${messageOf(error)}`, duration: 12 });
      })
      .finally(() => {
        setComing(null);
      });
  };
  const button = may('field.manage') ? (
    <Upload
      accept={FORMS}
      showUploadList={false}
      beforeUpload={(file) => {
        take(file);
        return false;
      }}
    >
      <Button type="primary" loading={coming !== null}>
        {coming === null ? t('maps.bringIn') : comingWords(coming)}
      </Button>
    </Upload>
  ) : undefined;
  return (
    <>
      <div className="page-head">
        <span className="muted">{t('maps.what')}</span>
        <span className="grow" />
        {(maps.data?.length ?? 0) > 0 && button}
      </div>
      <Loaded query={maps}>
        {(found) => {
          const chosen = found.find((sheet) => String(sheet.id) === params.get('map')) ?? found[0];
          if (chosen === undefined)
            return (
              <div className="sheet">
                <Empty title={t('maps.none')} action={button}>
                  {t('maps.noneMeans')}
                </Empty>
              </div>
            );
          return (
            <div className="maps">
              <div className="sheet maps-list">
                {found.map((sheet) => (
                  <button
                    key={sheet.id}
                    type="button"
                    aria-current={sheet.id === chosen.id}
                    onClick={() => {
                      setParams({ map: String(sheet.id) });
                    }}
                  >
                    <b>{sheet.name}</b>
                    <span className="muted">
                      {sizeWords(sheet.bytes)} · {t('maps.onPhones', { count: sheet.phones })}
                    </span>
                  </button>
                ))}
              </div>
              <section className="sheet maps-one" aria-label={chosen.name}>
                <About key={chosen.id} sheet={chosen} studyId={study.id} mayChange={may('field.manage')} />
                <Suspense fallback={<div className="map" />}>
                  <Shown key={chosen.id} sheet={chosen} />
                </Suspense>
              </section>
            </div>
          );
        }}
      </Loaded>
    </>
  );
}

const comingWords = ({ name, share }: { name: string; share: number }): string =>
  share === 1 ? t('maps.reading', { name }) : t('maps.sending', { name, percent: Math.floor(100 * share) });

function About({ sheet, studyId, mayChange }: { sheet: MapSheet; studyId: number; mayChange: boolean }) {
  const { modal, message } = App.useApp();
  const path = { sheet_id: sheet.id };
  const rename = useFieldChange(studyId, (name: string) =>
    ask(api.PUT('/api/map-sheets/{sheet_id}', { params: { path }, body: { name } })),
  );
  const remove = useFieldChange(studyId, () => ask(api.DELETE('/api/map-sheets/{sheet_id}', { params: { path } })));
  const sum = (...kinds: string[]) => kinds.reduce((all, kind) => all + (sheet.counts[kind] ?? 0), 0);
  const counts = [
    { count: sum('Polygon', 'MultiPolygon'), words: 'maps.areas' },
    { count: sum('LineString', 'MultiLineString'), words: 'maps.lines' },
    { count: sum('Point', 'MultiPoint'), words: 'maps.points' },
    { count: sum('tiles'), words: 'maps.tiles' },
  ] as const;
  const told = counts.filter(({ count }) => count > 0).map(({ count, words }) => t(words, { count }));
  const tiles = sheet.form === 'tiles' ? [t('maps.zooms', { from: sheet.min_zoom, to: sheet.max_zoom })] : [];
  return (
    <div className="maps-about">
      <div>
        <Typography.Title
          level={2}
          editable={
            mayChange && {
              text: sheet.name,
              maxLength: 64,
              onChange: (name) => {
                if (name.trim() === '' || name === sheet.name) return;
                rename.mutate(name, { onError: (error) => void message.error(messageOf(error)) });
              },
            }
          }
        >
          {sheet.name}
        </Typography.Title>
        <p className="muted">
          {[...told, ...tiles, sheet.attribution].filter(Boolean).join(' · ')}
          <br />
          {sheet.profiles.length === 0
            ? t('maps.noProfile')
            : t('maps.heldBy', { profiles: sheet.profiles.join(', ') })}
        </p>
      </div>
      {mayChange && (
        <Button
          type="text"
          danger
          onClick={() =>
            void modal.confirm({
              title: t('field.removeProfile', { name: sheet.name }),
              content: t('maps.removeWhat'),
              okText: t('field.remove'),
              okButtonProps: { danger: true },
              onOk: () => remove.mutateAsync(undefined),
            })
          }
        >
          {t('field.remove')}
        </Button>
      )}
    </div>
  );
}
