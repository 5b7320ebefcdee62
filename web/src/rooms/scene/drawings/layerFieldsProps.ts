import type { Schemas } from '../../../api/client';
import type { CardProps } from '../cards/card';

/** What the fields of a layer of drawings are given. */
export interface LayerFieldsProps extends Pick<CardProps, 'desk' | 'head' | 'onEdit'> {
  readonly layer: Schemas['Layer'];
  readonly disabled: boolean;
}
