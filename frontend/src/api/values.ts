/** What can be chosen, as the server says it in its OpenAPI document, under names for use here. */
export {
  finishMaterialValues as FINISHES,
  layerOutlineModeValues as BLEND_MODES,
  letteringAlignValues as ALIGNS,
  letteringFontValues as FONTS,
  partMaterialAnyOf0Values as MATERIALS,
  sweepGuideFamilyValues as SWEEPS,
} from "./schema";
