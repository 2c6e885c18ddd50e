// Maps kept under a name: this one is kept, others are looked at again; the logbook shows them.
import { Alert, Button, Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { layerActs, layerLink, useLayerChange, useLayers, type Layer } from './ground';

interface Props {
  name: string;
  query: Layer['query'];
  off: string[];
}

export function Layers({ name, query, off }: Props) {
  const study = useStudy();
  const may = useMay();
  const layers = useLayers(study.id, may('field.read'));
  const keep = useLayerChange(study.id, layerActs.keep(study.id));
  const remove = useLayerChange(study.id, layerActs.remove);
  const [called, setCalled] = useState<string | null>(null);
  const kept = layers.data ?? [];
  const problem = keep.error ?? remove.error;
  return (
    <div className="ground-layers">
      {kept.length > 0 && <h3>{t('ground.kept')}</h3>}
      <ul>
        {kept.map((layer) => (
          <li key={layer.id}>
            <Link to={layerLink(study.id, layer)}>{layer.name}</Link>
            {may('field.manage') && (
              <Button
                size="small"
                type="text"
                aria-label={t('ground.removeKept', { name: layer.name })}
                onClick={() => {
                  remove.mutate(layer.id);
                }}
              >
                ×
              </Button>
            )}
          </li>
        ))}
      </ul>
      {problem && <Alert type="error" showIcon title={messageOf(problem)} />}
      {may('field.manage') &&
        (called === null ? (
          <Button
            type="link"
            onClick={() => {
              setCalled(name);
            }}
          >
            {t('ground.keepMap')}
          </Button>
        ) : (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              keep.mutate(
                { name: called, query, off },
                {
                  onSuccess: () => {
                    setCalled(null);
                  },
                },
              );
            }}
          >
            <Input
              autoFocus
              aria-label={t('ground.keptAs')}
              maxLength={64}
              value={called}
              onChange={(event) => {
                setCalled(event.target.value);
              }}
            />
            <div className="row">
              <Button
                type="primary"
                htmlType="submit"
                size="small"
                loading={keep.isPending}
                disabled={called.trim() === ''}
              >
                {t('ground.keepIt')}
              </Button>
              <Button
                size="small"
                onClick={() => {
                  setCalled(null);
                }}
              >
                {t('ground.leaveIt')}
              </Button>
            </div>
          </form>
        ))}
    </div>
  );
}
