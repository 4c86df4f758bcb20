import { ShaderChunk } from "three";

/** The display transform of takes (`core/studio/colour.py`), for renderers with `CustomToneMapping`. */
ShaderChunk.tonemapping_pars_fragment = ShaderChunk.tonemapping_pars_fragment.replace(
  "vec3 CustomToneMapping( vec3 color ) { return color; }",
  `
  vec3 CustomToneMapping( vec3 color ) {
    const float start = 0.8;
    const float desaturation = 0.15;
    color *= toneMappingExposure;
    float peak = max( color.r, max( color.g, color.b ) );
    if ( peak < start ) return color;
    float d = 1.0 - start;
    float compressed = 1.0 - d * d / ( peak + d - start );
    color *= compressed / peak;
    float whitened = 1.0 - 1.0 / ( desaturation * ( peak - compressed ) + 1.0 );
    return mix( color, vec3( compressed ), whitened );
  }
  `,
);
