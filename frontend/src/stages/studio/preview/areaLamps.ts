import { createContext, useContext } from "react";
import { type MeshPhysicalMaterial, ShaderChunk, type Texture, Vector2, Vector3, Vector4 } from "three";
import { RectAreaLightTexturesLib as Tables } from "three/examples/jsm/lights/RectAreaLightTexturesLib.js";
import type { Shapes } from "../../../api/client";

type Three = [number, number, number];
type StagedLamp = Shapes["StagedLampShape"];

/** The library's tables, which its types do not tell of. */
const known = Tables as unknown as { LTC_HALF_1?: Texture; LTC_HALF_2?: Texture };

/** Lamps that shine at once; further ones are left to the take. */
const MOST = 24;
/** Where a far source stands here, mm: as large as it is seen, and near enough for the numbers of a graphics card. */
const FAR = 20_000;

/** What the lamps of a view are: those that shine, the middle that far ones are seen from, the exposure, and the lens. */
export interface Shine {
  lamps: StagedLamp[];
  /** Of them the only one that is on. */
  alone: string | null;
  centre: Three;
  gain: Three;
  lens: Shapes["LensShape"];
}

/**
 * Lamps as flat shapes that shine, by linearly transformed cosines (Heitz, Dupuy, Hill & Neubelt, Real-Time Polygonal-Light Shading,
 * 2016). The library has tables and rectangles; here lamps are also round, with a hole, brighter in their middle, or give light
 * straight ahead only. They are told as the camera sees them; only another number of them asks for another program.
 */
export class AreaLamps {
  private numbers = {
    lampMiddle: { value: places() },
    lampAcross: { value: places() },
    lampUp: { value: places() },
    lampGlow: { value: places() },
    lampShape: { value: Array.from({ length: MOST }, () => new Vector4()) },
    lampWithin: { value: Array.from({ length: MOST }, () => new Vector2()) },
  };

  become({ lamps, alone, centre, gain, lens }: Shine) {
    const { numbers } = this;
    const shining = lamps.slice(0, MOST);
    const [right, up, forward, place] = [lens.right, lens.up, lens.forward, lens.place].map(
      (way) => new Vector3(...(way as Three)),
    );
    const seen = (way: Vector3) => way.set(way.dot(right!), way.dot(up!), -way.dot(forward!));
    shining.forEach((lamp, k) => {
      const middle = numbers.lampMiddle.value[k]!.set(...(lamp.middle as Three)).sub(new Vector3(...centre));
      const nearer = Math.min(1, FAR / middle.length());
      middle
        .multiplyScalar(nearer)
        .add(new Vector3(...centre))
        .sub(place!);
      seen(middle);
      seen(numbers.lampAcross.value[k]!.set(...(lamp.across as Three)).multiplyScalar(nearer));
      seen(numbers.lampUp.value[k]!.set(...(lamp.up as Three)).multiplyScalar(nearer));
      const on = !alone || lamp.id === alone ? 1 : 0;
      numbers.lampGlow.value[k]!.set(...(lamp.radiance.map((value, c) => on * value * gain[c]!) as Three));
      numbers.lampShape.value[k]!.set(lamp.round ? 1 : 0, lamp.hole, lamp.rim, 0);
      numbers.lampWithin.value[k]!.set(...((lamp.lit_within ?? [-2, -3]) as [number, number]));
    });
  }

  /** How materials are lit by so many lamps: `fine` with sharp edges, where the machine has the time. */
  lighting(count: number, fine: boolean): LitBy {
    const way = (matte: boolean): Lighting => {
      const defines = [fine && "FINE_EDGES", matte && "MATTE"].filter(Boolean).map((name) => `#define ${name}`);
      const [head, lit] = [`${defines.join("\n")}\n${PARS}`, LIT].map((text) =>
        text.replaceAll("LAMPS", String(count)),
      );
      return {
        onBeforeCompile: (shader) => {
          if (!known.LTC_HALF_1) Tables.init();
          const tables = { lampTable: { value: known.LTC_HALF_1 }, lampAlbedo: { value: known.LTC_HALF_2 } };
          Object.assign(shader.uniforms, this.numbers, tables);
          shader.fragmentShader = shader.fragmentShader
            .replace(
              "#include <lights_physical_pars_fragment>",
              `${ShaderChunk.lights_physical_pars_fragment}\n${head}`,
            )
            .replace("#include <lights_fragment_end>", `#include <lights_fragment_end>\n${lit}`);
        },
        customProgramCacheKey: () => `${count} ${defines.join()}`,
      };
    };
    return { name: `${count}${fine}`, shining: way(false), matte: way(true) };
  }
}

type Lighting = Required<Pick<MeshPhysicalMaterial, "onBeforeCompile" | "customProgramCacheKey">>;

/** How what shines and what is matte is lit; a material has to be made anew where the name is another. */
export interface LitBy {
  name: string;
  shining: Lighting;
  matte: Lighting;
}

export const LampsContext = createContext<LitBy | null>(null);
export const useLitBy = () => useContext(LampsContext)!;

function places(): Vector3[] {
  return Array.from({ length: MOST }, () => new Vector3());
}

const PARS = /* glsl */ `
#if LAMPS > 0
uniform vec3 lampMiddle[ LAMPS ];
uniform vec3 lampAcross[ LAMPS ];
uniform vec3 lampUp[ LAMPS ];
uniform vec3 lampGlow[ LAMPS ];
uniform vec4 lampShape[ LAMPS ];
uniform vec2 lampWithin[ LAMPS ];
#endif
uniform sampler2D lampTable;
uniform sampler2D lampAlbedo;

#ifdef FINE_EDGES

// share of a lobe that a flat shape fills, an octagon of the same area for a round one; everything in the lobe's own directions
float lampFills( const in vec3 middle, const in vec3 across, const in vec3 up, const in bool round_ ) {
	int sides = round_ ? 8 : 4;
	float grown = round_ ? 1.0539 : 1.41421356;
	float step_ = round_ ? 0.70710678 : 0.0; // cosine of the turn from corner to corner; its sine is the rest
	float over = round_ ? 0.70710678 : 1.0;
	vec2 turn = vec2( 0.70710678, - 0.70710678 );
	vec3 last = normalize( middle + grown * ( turn.x * across + turn.y * up ) );
	vec3 sum = vec3( 0.0 );
	for ( int k = 0; k < sides; k ++ ) {
		turn = vec2( turn.x * step_ + turn.y * over, turn.y * step_ - turn.x * over );
		vec3 next = normalize( middle + grown * ( turn.x * across + turn.y * up ) );
		sum += LTC_EdgeVectorFormFactor( last, next );
		last = next;
	}
	return LTC_ClippedSphereFormFactor( sum );
}

// the same of a shape with a hole
float lampFills( const in mat3 to, const in vec3 middle, const in vec3 across, const in vec3 up, const in vec4 shape ) {
	float whole = 0.0;
	int rims = shape.y > 0.0 ? 2 : 1;
	for ( int k = 0; k < rims; k ++ ) {
		float size = k == 0 ? 1.0 : shape.y;
		float filled = lampFills( to * middle, to * ( across * size ), to * ( up * size ), shape.x > 0.5 );
		whole += k == 0 ? filled : - filled;
	}
	return max( whole, 0.0 );
}

#else

// the same, as if the shape were round and stood square to the way there: right for what is small or far, and five times as quick
float lampFills( const in mat3 to, const in vec3 middle, const in vec3 across, const in vec3 up, const in vec4 shape ) {
	vec3 there = to * middle;
	vec3 area = cross( to * across, to * up );
	float away = inversesqrt( dot( there, there ) );
	float seen = ( shape.x > 0.5 ? 1.0 : 1.27323954 ) * ( 1.0 - shape.y * shape.y ) * abs( dot( there, area ) ) * away * away * away;
	float filled = seen / ( 1.0 + seen );
	return max( filled * ( filled + there.z * away ) / ( filled + 1.0 ), 0.0 );
}

#endif

// how bright a lamp is against its mean where a way from the origin meets it; alpha is the width of the lobe around that way
float lampGrade( const in vec3 way, const in vec3 middle, const in vec3 across, const in vec3 up, const in vec4 shape, const in float alpha ) {
	if ( shape.z > 0.999 ) return 1.0;
	vec3 normal = cross( across, up );
	float along = dot( middle, normal ) / dot( way, normal );
	if ( ! ( along > 0.0 ) ) return 1.0;
	vec3 at = along * way - middle;
	vec2 where = clamp( vec2( dot( at, across ) / dot( across, across ), dot( at, up ) / dot( up, up ) ), - 1.0, 1.0 );
	bool round_ = shape.x > 0.5;
	vec2 fall = cos( 1.57079633 * ( round_ ? vec2( min( length( where ), 1.0 ), 0.0 ) : where ) );
	float mean = shape.z + ( 1.0 - shape.z ) * ( round_ ? 0.2974 : 0.25 );
	float there = ( shape.z + ( 1.0 - shape.z ) * fall.x * fall.x * fall.y * fall.y ) / mean;
	float blurred = saturate( alpha * along * length( way ) / min( length( across ), length( up ) ) );
	return mix( there, 1.0, blurred );
}

mat3 lampLobe( const in vec3 N, const in vec3 V, const in float roughness, out vec2 albedo ) {
	vec2 uv = LTC_Uv( N, V, roughness );
	vec4 t = texture2D( lampTable, uv );
	albedo = texture2D( lampAlbedo, uv ).xy;
	return mat3( vec3( t.x, 0, t.y ), vec3( 0, 1, 0 ), vec3( t.z, 0, t.w ) );
}

mat3 lampUpright( const in vec3 N, const in vec3 V ) {
	vec3 side = V - N * dot( V, N );
	side = dot( side, side ) > 1e-8 ? normalize( side ) : normalize( cross( N, vec3( 0.3, 0.5, 0.8 ) ) );
	return transpose( mat3( side, - cross( N, side ), N ) );
}
`;

const LIT = /* glsl */ `
#if LAMPS > 0
{
	mat3 upright = lampUpright( geometryNormal, geometryViewDir );
	#ifndef MATTE
	vec2 albedo;
	mat3 lobe = lampLobe( geometryNormal, geometryViewDir, material.roughness, albedo ) * upright;
	vec3 mirrored = material.specularColorBlended * albedo.x + ( material.specularF90 - material.specularColorBlended ) * albedo.y;
	vec3 bounced = reflect( - geometryViewDir, geometryNormal );
	#endif
	#ifdef USE_CLEARCOAT
		vec2 coatAlbedo;
		mat3 coatLobe = lampLobe( geometryClearcoatNormal, geometryViewDir, material.clearcoatRoughness, coatAlbedo ) * lampUpright( geometryClearcoatNormal, geometryViewDir );
		vec3 coatMirrored = material.clearcoatF0 * coatAlbedo.x + ( material.clearcoatF90 - material.clearcoatF0 ) * coatAlbedo.y;
		vec3 coatBounced = reflect( - geometryViewDir, geometryClearcoatNormal );
	#endif
	vec3 middle, across, up, glow;
	vec4 shape;
	float ahead;
	#pragma unroll_loop_start
	for ( int i = 0; i < LAMPS; i ++ ) {
		middle = lampMiddle[ i ] - geometryPosition;
		across = lampAcross[ i ];
		up = lampUp[ i ];
		shape = lampShape[ i ];
		ahead = dot( middle, normalize( cross( across, up ) ) ); // less than nothing behind it
		glow = ahead > 0.0 ? lampGlow[ i ] * smoothstep( lampWithin[ i ].y, lampWithin[ i ].x, ahead / length( middle ) ) : vec3( 0.0 );
		reflectedLight.directDiffuse += glow * material.diffuseContribution * lampFills( upright, middle, across, up, shape );
		#ifndef MATTE
			reflectedLight.directSpecular += glow * mirrored * lampFills( lobe, middle, across, up, shape )
				* lampGrade( bounced, middle, across, up, shape, material.roughness * material.roughness );
		#endif
		#ifdef USE_CLEARCOAT
			clearcoatSpecularDirect += glow * coatMirrored * lampFills( coatLobe, middle, across, up, shape )
				* lampGrade( coatBounced, middle, across, up, shape, material.clearcoatRoughness * material.clearcoatRoughness );
		#endif
	}
	#pragma unroll_loop_end
}
#endif
`;
