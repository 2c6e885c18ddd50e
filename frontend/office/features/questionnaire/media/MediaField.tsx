// The files that a line or a code shows: chosen from the shelf, or brought in on the spot.
import { Button, Select, Upload } from 'antd';
import { t } from '../../../texts/texts';
import { Thumbnail } from './Thumbnail';
import { useShelf } from './useShelf';
import './media.css';

interface Props {
  studyId: number;
  label: string;
  names: string[];
  readOnly: boolean;
  onChange: (names: string[]) => void;
}

export function MediaField({ studyId, label, names, readOnly, onChange }: Props) {
  const { shelf, bringIn } = useShelf(studyId);
  const files = shelf.data?.files ?? [];
  const known = new Map(files.map((file) => [file.name, file]));
  return (
    <div className="media-field">
      <div className="row">
        <Select
          mode="tags"
          className="grow"
          aria-label={label}
          disabled={readOnly}
          placeholder={t('media.fieldPlaceholder')}
          value={names}
          options={files.map((file) => ({ value: file.name, label: file.name }))}
          onChange={(chosen: string[]) => {
            onChange(chosen.map((name) => name.trim()).filter(Boolean));
          }}
        />
        {!readOnly && (
          <Upload
            showUploadList={false}
            beforeUpload={(file) => {
              void bringIn([file]).then((came) => {
                onChange([...names, ...came.filter((name) => !names.includes(name))]);
              });
              return false;
            }}
          >
            <Button>{t('media.bringIn')}</Button>
          </Upload>
        )}
      </div>
      <div className="media-strip">
        {names.map((name) => {
          const file = known.get(name);
          return file ? <Thumbnail key={name} file={file} /> : null;
        })}
      </div>
    </div>
  );
}
