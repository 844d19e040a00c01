/** The sides of a stack that bars lie on, and the photographs that show each as its bars lie now. Derived anew; never stored. */
import type { Profile } from '../../../pack/profile.ts';
import type { Stage } from '../../../pack/stage.ts';
import { lastOpened, linksIn, type TorqueScene } from './torque-view.ts';

export interface SideScene {
  readonly finding: {
    readonly photos: readonly {
      readonly photoId: string;
      readonly number: number;
      readonly stage: Stage;
      /** The layer that it shows. */
      readonly place: string | null;
      readonly erased: object | null;
    }[];
  };
  readonly facts: TorqueScene['facts'];
}

/** One side, by the layer of its bars. */
export interface StackSide {
  readonly layerId: string;
  readonly name: string;
  /** Taken on the way up since its bars were off last, and not erased; oldest first. */
  readonly photoIds: readonly string[];
}

/** A pack with frames has a side for each; one of single bars has one for each layer of them. */
export function listSides({ finding, facts }: SideScene, profile: Profile): StackSide[] {
  const layers = profile.layers.filter((l) => linksIn(l.fact, profile).length > 0);
  const framed = layers.filter((l) => l.fact?.kind === 'frame');
  return (framed.length > 0 ? framed : layers).map(({ id, name, fact }) => {
    const off = lastOpened(linksIn(fact, profile), facts, profile);
    const shown = finding.photos.filter((p) => p.stage === 'rebuild' && p.place === id && !p.erased && p.number > off);
    return { layerId: id, name, photoIds: shown.map((p) => p.photoId) };
  });
}
