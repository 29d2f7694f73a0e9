import type { Ref } from 'react';

interface Props {
  ref: Ref<HTMLInputElement>;
  label: string;
  accept: string;
  multiple?: boolean;
  /** Files that were chosen, one at least. */
  onChoose(files: File[]): void;
}

/** The browser’s own choice of files, opened by a button elsewhere. The same file can be chosen twice in a row. */
export function FileChooser({ ref, label, accept, multiple = false, onChoose }: Props) {
  return (
    <input
      ref={ref}
      type="file"
      hidden
      multiple={multiple}
      accept={accept}
      aria-label={label}
      onChange={({ target }) => {
        const files = [...(target.files ?? [])];
        target.value = '';
        if (files.length) onChoose(files);
      }}
    />
  );
}

/** Pictures that can be brought in. */
export const pictureTypes = 'image/png,image/jpeg,image/gif,image/webp';
