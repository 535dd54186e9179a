import { CLOTH_EXTENSION } from '../shipment/cloth-extension.ts';
import { defineRawExtension } from './raw-extension.ts';

/** The extensions that a shipment adds, all plain JSON beside the geometry. */
export const ClothExtensionWriter = defineRawExtension(CLOTH_EXTENSION);
export const ShapesWriter = defineRawExtension('KHR_implicit_shapes');
export const RigidBodiesWriter = defineRawExtension('KHR_physics_rigid_bodies');

export const OUR_EXTENSIONS = [ClothExtensionWriter, ShapesWriter, RigidBodiesWriter];
