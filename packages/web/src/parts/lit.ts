/**
 * Light on a surface: a sky and up to three lamps, made here. Direct light by the microfacet model of Walter and others, "Microfacet models
 * for refraction through rough surfaces", 2007 (GGX), with the joint masking and shadowing of Heitz, "Understanding the masking-shadowing
 * function in microfacet-based BRDFs", 2014, and the reflectance of Schlick, 1994; the sky's share of it by the fit of Karis, "Physically
 * based shading on mobile", 2014. Roughness is squared to the width of the facets, as glTF 2.0, appendix B, has it. No tone mapping: what
 * is brighter than white is white.
 */
import { DoubleSide, GLSL3, ShaderMaterial, Vector3, Vector4, Color, type Texture } from 'three';

/** Colours are linear; a lamp's strength is what a white, rough surface that faces it sends back. */
export interface LightRig {
  up: string;
  horizon: string;
  ground: string;
  /** Of the sky: what a white surface that looks straight up sends back. */
  sky: number;
  lamps: readonly { from: readonly [number, number, number]; colour: string; strength: number }[];
}

export const RIGS = {
  Overcast: {
    ...{ up: '#ffffff', horizon: '#e4e4e4', ground: '#a6a6a6', sky: 0.76 },
    lamps: [{ from: [2, 5, 3], colour: '#ffffff', strength: 0.3 }],
  },
  'Low sun': {
    ...{ up: '#9fb4d2', horizon: '#f2dcc0', ground: '#5c554c', sky: 0.5 },
    lamps: [{ from: [5, 1.6, 2], colour: '#ffd9a8', strength: 0.85 }],
  },
  Workshop: {
    ...{ up: '#d8d8d8', horizon: '#6a6a6a', ground: '#5a5a5a', sky: 0.42 },
    lamps: [
      { from: [4, 5, 0], colour: '#ffffff', strength: 0.4 },
      { from: [-4, 4, 3], colour: '#f2f5ff', strength: 0.32 },
      { from: [0, 3, -5], colour: '#ffffff', strength: 0.26 },
    ],
  },
  'Night quay': {
    ...{ up: '#10141c', horizon: '#1c222c', ground: '#0c0c0e', sky: 0.6 },
    lamps: [
      { from: [3, 3, 4], colour: '#ffcf90', strength: 0.34 },
      { from: [-5, 2, -2], colour: '#9fc0ff', strength: 0.12 },
    ],
  },
} as const satisfies Record<string, LightRig>;

/** Which channel of a texture has a value, and whether it is the other way round; null: it has none. */
export interface Reading {
  channel: 0 | 1 | 2 | 3;
  inverted: boolean;
}

/** What is known of a surface beside its colour. */
export interface SurfaceTextures {
  values: Texture | null;
  reads: Readonly<Partial<Record<'roughness' | 'metal' | 'coat' | 'occlusion', Reading>>>;
  normal: Texture | null;
  /** Whether green of the directions grows towards the sheet's foot. */
  greenDown?: boolean;
}

/** A surface of which nothing is known. */
export const PLAIN_SURFACE: SurfaceTextures = { values: null, reads: {}, normal: null };

const VERTEX = `
out vec2 vUv;
out vec3 vAt;
out vec3 vNormal;
#include <clipping_planes_pars_vertex>
void main() {
  vUv = uv;
  vec4 at = modelMatrix * vec4(position, 1.0);
  vAt = at.xyz;
  vNormal = mat3(modelMatrix) * normal;
  vec4 mvPosition = viewMatrix * at;
  gl_Position = projectionMatrix * mvPosition;
  #include <clipping_planes_vertex>
}`;

const FRAGMENT = `
uniform vec3 plain;
#ifdef PAINTED
uniform sampler2D map;
#endif
#ifdef VALUED
uniform sampler2D values;
uniform vec4 roughnessOf, metalOf, coatOf, occlusionOf;
#endif
uniform vec4 without;
#ifdef BENT
uniform sampler2D bent;
uniform float green;
#endif
uniform float cut;
uniform vec3 up, horizon, ground;
uniform vec3 lampFrom[3];
uniform vec3 lampLight[3];
in vec2 vUv;
in vec3 vAt;
in vec3 vNormal;
layout(location = 0) out highp vec4 pc_fragColor;
#define gl_FragColor pc_fragColor

#include <clipping_planes_pars_fragment>

const float PI = 3.14159265;

/* The sky in a direction, softened as a surface of that roughness sees it. */
vec3 sky(vec3 d, float rough) {
  float soft = 0.03 + 0.9 * rough;
  vec3 above = mix(horizon, up, smoothstep(0.0, 1.0, d.y * 0.5 + 0.5 + (1.0 - rough) * 0.5 * d.y));
  return mix(ground, above, smoothstep(-soft, soft, d.y));
}

/* Schlick's fifth power of what is left to a right angle. */
float grazing(float c) {
  float k = clamp(1.0 - c, 0.0, 1.0);
  return k * k * k * k * k;
}

/* Facets and their masking together: D V of a width. */
float facets(float nl, float nv, float nh, float width) {
  float a2 = width * width;
  float d = nh * nh * (a2 - 1.0) + 1.0;
  float v = 0.5 / max(nl * sqrt(nv * nv * (1.0 - a2) + a2) + nv * sqrt(nl * nl * (1.0 - a2) + a2), 1e-5);
  return a2 / (PI * d * d) * v;
}

/* What of the sky's light comes back (Karis 2014): scale and bias of the reflectance seen straight on. */
vec2 reflected(float rough, float nv) {
  vec4 r = rough * vec4(-1.0, -0.0275, -0.572, 0.022) + vec4(1.0, 0.0425, 1.04, -0.04);
  float a = min(r.x * r.x, exp2(-9.28 * nv)) * r.x + r.y;
  return vec2(-1.04, 1.04) * a + r.zw;
}

void main() {
  #include <clipping_planes_fragment>
  vec4 colour = vec4(plain, 1.0);
  #ifdef PAINTED
  colour = texture(map, vUv);
  #endif
  if (colour.a < cut) discard;
  float rough = without.x, metal = without.y, coat = without.z, open = without.w;
  #ifdef VALUED
  vec4 value = texture(values, vUv);
  rough += dot(value, roughnessOf);
  metal += dot(value, metalOf);
  coat += dot(value, coatOf);
  open += dot(value, occlusionOf);
  #endif
  rough = clamp(rough, 0.04, 1.0);
  vec3 n = normalize(vNormal) * (gl_FrontFacing ? 1.0 : -1.0);
  vec3 v = normalize(cameraPosition - vAt);
  vec3 smooth_n = n;
  #ifdef BENT
  /* A frame from how place and UV change over the screen: Mikkelsen, "Bump mapping unparametrized surfaces on the GPU", 2010. */
  vec3 px = dFdx(vAt), py = dFdy(vAt);
  vec2 ux = dFdx(vUv), uy = dFdy(vUv);
  vec3 c1 = cross(py, n), c0 = cross(n, px);
  vec3 t = c1 * ux.x + c0 * uy.x, b = c1 * ux.y + c0 * uy.y;
  float longest = max(dot(t, t), dot(b, b));
  vec3 bend = texture(bent, vUv).xyz * 2.0 - 1.0;
  if (longest > 0.0) n = normalize((t * bend.x - b * bend.y * green) * inversesqrt(longest) + n * max(bend.z, 0.05));
  #endif
  float nv = max(dot(n, v), 1e-3);
  vec3 base = colour.rgb;
  vec3 straight = mix(vec3(0.04), base, metal);
  vec3 diffuse = base * (1.0 - metal);
  float width = rough * rough;
  vec2 share = reflected(rough, nv);
  /* What the facets send back does not reach the paint below them. */
  vec3 back = straight * share.x + share.y;
  vec3 light = diffuse * (1.0 - back) * mix(ground, up, 0.5 + 0.5 * n.y) * open;
  light += back * sky(reflect(-v, n), rough) * open;
  float coatNv = max(dot(smooth_n, v), 1e-3), coatShare = 0.0;
  vec3 over = vec3(0.0);
  if (coat > 0.01) {
    coatShare = coat * (0.04 + 0.96 * grazing(coatNv));
    over = coatShare * sky(reflect(-v, smooth_n), 0.06);
  }
  for (int i = 0; i < LAMPS; i++) {
    vec3 l = lampFrom[i];
    vec3 h = normalize(l + v);
    float nl = max(dot(n, l), 0.0);
    if (nl > 0.0) {
      vec3 f = straight + (1.0 - straight) * grazing(dot(v, h));
      float d = min(facets(nl, nv, max(dot(n, h), 0.0), width), 40.0);
      light += (diffuse * (1.0 - f) + f * d * PI) * lampLight[i] * nl;
    }
    float cl = max(dot(smooth_n, l), 0.0);
    if (coat > 0.01 && cl > 0.0) {
      float f = 0.04 + 0.96 * grazing(dot(v, h));
      over += coat * f * min(facets(cl, coatNv, max(dot(smooth_n, h), 0.0), 0.01), 40.0) * PI * lampLight[i] * cl;
    }
  }
  gl_FragColor = vec4(light * (1.0 - coatShare) + over, 1.0);
  #include <colorspace_fragment>
}`;

/** The directions that a rig's lamps shine from, of length 1; three of them, whether there are as many lamps or not. */
export const lampsFrom = ({ lamps }: LightRig): Vector3[] =>
  [0, 1, 2].map((i) => new Vector3(...(lamps[i]?.from ?? [0, 1, 0])).normalize());

/**
 * A surface in a light.
 * @param look its paint or plain colour, and from which alpha on it is there @param lampFrom where the rig's lamps shine from; those
 * who hold it can turn it
 */
export function litMaterial(
  rig: LightRig,
  look: { map: Texture | null; color: string; alphaTest: number },
  { values, reads, normal, greenDown }: SurfaceTextures,
  lampFrom = { value: lampsFrom(rig) },
): ShaderMaterial {
  const linear = (hex: string, times = 1) => {
    const { r, g, b } = new Color(hex);
    return new Vector3(r, g, b).multiplyScalar(times);
  };
  const mask = (of: Reading | undefined) => {
    const at = new Vector4(0, 0, 0, 0);
    if (of && values) at.setComponent(of.channel, of.inverted ? -1 : 1);
    return at;
  };
  /** Where nothing says it: half rough, no metal, no coat, open to the sky. */
  const otherwise = (of: Reading | undefined, value: number) => (of && values ? (of.inverted ? 1 : 0) : value);
  const { lamps } = rig;
  const three = <T>(make: (i: number) => T) => [0, 1, 2].map(make);
  return new ShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
    clipping: true,
    side: DoubleSide,
    defines: {
      LAMPS: lamps.length,
      ...(look.map && { PAINTED: 1 }),
      ...(values && { VALUED: 1 }),
      ...(normal && { BENT: 1 }),
    },
    uniforms: {
      plain: { value: linear(look.color) },
      map: { value: look.map },
      values: { value: values },
      bent: { value: normal },
      green: { value: greenDown ? -1 : 1 },
      cut: { value: look.alphaTest },
      roughnessOf: { value: mask(reads.roughness) },
      metalOf: { value: mask(reads.metal) },
      coatOf: { value: mask(reads.coat) },
      occlusionOf: { value: mask(reads.occlusion) },
      without: {
        value: new Vector4(
          otherwise(reads.roughness, 0.5),
          otherwise(reads.metal, 0),
          otherwise(reads.coat, 0),
          otherwise(reads.occlusion, 1),
        ),
      },
      up: { value: linear(rig.up, rig.sky) },
      horizon: { value: linear(rig.horizon, rig.sky) },
      ground: { value: linear(rig.ground, rig.sky) },
      lampFrom,
      lampLight: { value: three((i) => linear(lamps[i]?.colour ?? '#000000', lamps[i]?.strength ?? 0)) },
    },
  });
}
