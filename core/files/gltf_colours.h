// The document's list of named colours in glTF: its materials, and a list of them in the layout (docs/format.md).
#pragma once

#include "core/files/gltf_data.h"
#include "core/scene/scene.h"

namespace tack {

/// What a material looks like without light or textures: its base colour, sRGB; white where it has none. Alpha counts
/// only where the material blends.
Colour colour_of_material(const Json& material);

/// A channel of 0 to 1 as glTF's factors and vertex colours have it, from sRGB, and back.
double linear_of_srgb(float value);
float srgb_of(double linear);

/// A plain material of that colour; matte, no metal.
Json plain_material(const std::string& name, const Colour& colour);
/// The base colour of a material; everything else of it stays, its alpha too.
void set_base_colour(Json& material, const Colour& colour);

/// The list of a document. One of ours says itself which of its materials are on it (`layout`); of any other document
/// all are, by their names or by their numbers ("Material 3"), except what Tack Point wrote for colours without a name.
/// No two have the same name. `json` is a glTF whose materials are objects.
std::vector<NamedColour> colours_from(const Json& json, const Json* layout);

/// Writes into the materials what has been changed of colours that came with them, and nothing else.
void write_changes(Json& json, const std::vector<NamedColour>& colours);

}  // namespace tack
