import { createContext, useContext } from 'react';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { TemplateChange } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';

/** The template that is looked at, and how it is changed. */
export interface Looking {
  hash: string;
  template: Template;
  layout: TemplateLayout;
  /** Makes the changed template and shows it. */
  change(...changes: TemplateChange[]): Promise<void>;
  /** Makes outlines of the shapes in guides and layers of the template. */
  outline(from: { role: 'frame' | 'collider'; guides: string[]; layers: string[] }): Promise<void>;
  /** Puts a texture that was kept beside the sheets on one of them, or on a new one. */
  takeIn(taking: { file: string; sheet: string | null; map: string }): Promise<void>;
  /** Key of the outline whose fields are open. */
  outlined: string | null;
  showOutline(key: string | null): void;
}

export const LookingContext = createContext<Looking | null>(null);

export function useLooking(): Looking {
  const looking = useContext(LookingContext);
  if (!looking) throw new Error('Outside a template.');
  return looking;
}
