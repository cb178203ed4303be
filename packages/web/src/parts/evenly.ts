/** A view without perspective: what is seen in the plane through the target stays as large as it was with it. */
import type { OrthographicCamera, PerspectiveCamera, Vector3 } from 'three';

/** Gives a camera without perspective the place, the direction and the width of one that has it. @param reach how far it sees before and behind, metres */
export function seeEvenly(
  even: OrthographicCamera,
  camera: PerspectiveCamera,
  target: Vector3,
  reach: number,
): OrthographicCamera {
  const high = camera.position.distanceTo(target) * Math.tan((camera.fov * Math.PI) / 360);
  even.position.copy(camera.position);
  even.quaternion.copy(camera.quaternion);
  Object.assign(even, { left: -high * camera.aspect, right: high * camera.aspect, top: high, bottom: -high });
  Object.assign(even, { near: -reach, far: reach });
  even.updateProjectionMatrix();
  even.updateMatrixWorld();
  return even;
}
