// GLSL 3.30 of the renderer, in pieces that programs are put together from.
#pragma once

namespace tack::shaders {

inline constexpr const char* kVersion = "#version 330 core\n";

// How light a surface is whose normal (eye coordinates, unit) this is: a soft key from the upper left, a fill from the
// right, light from above; matte, like painted wood under a lamp.
inline constexpr const char* kLight = R"(
float light_on(vec3 n) {
  float key = max(dot(n, normalize(vec3(-0.45, 0.75, 0.62))), 0.0);
  float fill = max(dot(n, normalize(vec3(0.8, 0.1, 0.5))), 0.0);
  return 0.66 + 0.32 * key + 0.12 * fill + 0.05 * n.y;
}
)";

// Each instance is a part: the rows of its matrix to eye coordinates, the columns of its map of normals, its colour.
inline constexpr const char* kFacesVertex = R"(
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec4 row_x;
layout(location = 3) in vec4 row_y;
layout(location = 4) in vec4 row_z;
layout(location = 5) in vec3 normal_x;
layout(location = 6) in vec3 normal_y;
layout(location = 7) in vec3 normal_z;
layout(location = 8) in vec4 own;
uniform mat4 projection;
vec3 normal_here() { return normal_x * normal.x + normal_y * normal.y + normal_z * normal.z; }
vec4 place_here() {
  vec4 p = vec4(position, 1.0);
  return projection * vec4(dot(row_x, p), dot(row_y, p), dot(row_z, p), 1.0);
}
)";

// Lit at each pixel.
inline constexpr const char* kByPixelVertex = R"(
out vec3 eye_normal;
flat out vec4 colour;
void main() {
  eye_normal = normal_here();
  gl_Position = place_here();
  colour = own;
}
)";

inline constexpr const char* kByPixelFragment = R"(
in vec3 eye_normal;
flat in vec4 colour;
uniform float shade;
out vec4 result;
void main() {
  vec3 n = normalize(eye_normal);
  if (!gl_FrontFacing) n = -n;
  vec3 lit = colour.rgb * light_on(n) * shade;
  result = vec4(min(lit, vec3(1.0)), colour.a);
}
)";

// Coloured by where each face points. Apart from the above: a card that is none goes through both ways of a condition.
inline constexpr const char* kByDirectionFragment = R"(
in vec3 eye_normal;
flat in vec4 colour;
uniform mat3 to_world;         // of directions, from eye coordinates
uniform vec4 facing[6];        // +x, −x, +y, −y, +z, −z
uniform vec4 behind;           // seen from behind
uniform float hatch;           // pixels from one line of hatching to the next; 0: none
uniform float shade;
out vec4 result;
void main() {
  vec3 n = normalize(eye_normal), w = normalize(to_world * eye_normal), q = w * w;
  if (!gl_FrontFacing) n = -n;
  vec3 own = q.x * facing[w.x < 0.0 ? 1 : 0].rgb + q.y * facing[w.y < 0.0 ? 3 : 2].rgb + q.z * facing[w.z < 0.0 ? 5 : 4].rgb;
  if (!gl_FrontFacing && hatch > 0.0) own = mod(gl_FragCoord.x + gl_FragCoord.y, hatch) < hatch * 0.45 ? behind.rgb : vec3(0.93, 0.90, 0.86);
  vec3 lit = own * mix(1.0, light_on(n), 0.35) * shade;
  result = vec4(min(lit, vec3(1.0)), colour.a);
}
)";

// Lit at each vertex: as good where triangles are a few pixels large and none is seen from behind, and in half the time
// for a card that is none, which shades sixteen pixels for each of them.
inline constexpr const char* kByVertexVertex = R"(
uniform float shade;
out vec4 lit;
void main() {
  gl_Position = place_here();
  lit = vec4(min(own.rgb * (light_on(normalize(normal_here())) * shade), vec3(1.0)), own.a);
}
)";

inline constexpr const char* kByVertexFragment = R"(
in vec4 lit;
out vec4 result;
void main() { result = lit; }
)";

// Of all lines.
inline constexpr const char* kNearer = R"(
uniform vec4 nearer;           // x: pixels by which lines stand before their faces, in mm for parallel views, as a share
                               // of the depth for perspective ones; y, z: the projection's depth row; w: 1 for perspective
)";

// One quad for each line; both ends are cut to in front of the eye before they are widened on the screen.
inline constexpr const char* kLooseLinesVertex = R"(
layout(location = 0) in vec3 start;
layout(location = 1) in vec3 end;
layout(location = 2) in vec4 line_colour;
uniform mat4 projection;
int corner() { return gl_VertexID; }
void ends(out vec4 a, out vec4 b, out vec4 tint) {
  a = projection * vec4(start, 1.0);
  b = projection * vec4(end, 1.0);
  tint = line_colour;
}
)";

// What is drawn of many parts in one go is looked up by the vertex's number: instances of a few vertices each cost a
// card that is none more than they draw.
inline constexpr const char* kPart = R"(
uniform samplerBuffer parts;   // seven texels each
vec4 of_part(int part, int texel) { return texelFetch(parts, 7 * part + texel); }
vec4 in_eye(int part, vec4 p) {
  return vec4(dot(of_part(part, 0), p), dot(of_part(part, 1), p), dot(of_part(part, 2), p), 1.0);
}
)";

// The edges of many parts with one mesh: `count` of them for each part, from `first` on in the mesh's own buffer.
inline constexpr const char* kEdges = R"(
uniform mat4 projection;
uniform samplerBuffer edges;
uniform int first_part;
uniform int first;
uniform int count;
uniform vec4 colour;
int part_of(int line) { return first_part + line / count; }
vec4 end_of(int line, int end) {
  int edge = first + line % count;
  return projection * in_eye(part_of(line), vec4(texelFetch(edges, 2 * edge + end).xyz, 1.0));
}
)";

// As wide lines of six vertices each.
inline constexpr const char* kEdgesVertex = R"(
int corner() { return int[6](0, 1, 2, 2, 1, 3)[gl_VertexID % 6]; }
void ends(out vec4 a, out vec4 b, out vec4 tint) {
  int line = gl_VertexID / 6;
  a = end_of(line, 0);
  b = end_of(line, 1);
  tint = colour;
}
)";

// Parts that are hardly larger than a pixel, as the boxes round them.
inline constexpr const char* kBoxesVertex = R"(
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec4 own;
uniform mat4 projection;
vec3 normal_here() { return normal; }
vec4 place_here() { return projection * vec4(position, 1.0); }
)";

// Which part each pixel shows: its number as a colour.
inline constexpr const char* kNumbersFragment = R"(
flat in vec4 colour;
out vec4 result;
void main() { result = colour; }
)";

// As lines of one pixel, two vertices each.
inline constexpr const char* kThinEdgesVertex = R"(
uniform float own_colour;      // 1: that of the part
flat out vec4 tint;
void main() {
  int line = gl_VertexID / 2;
  tint = own_colour > 0.5 ? of_part(part_of(line), 6) : colour;
  vec4 p = end_of(line, gl_VertexID % 2);
  float w = p.w * (1.0 - nearer.x);
  p.z = nearer.w > 0.5 ? (nearer.z - nearer.y * w) / w * p.w : p.z + nearer.y * nearer.x;
  gl_Position = p;
}
)";

inline constexpr const char* kThinEdgesFragment = R"(
flat in vec4 tint;
out vec4 result;
void main() { result = tint; }
)";

inline constexpr const char* kWideLines = R"(
uniform vec2 half_viewport;
uniform float width;
out vec4 tint;
out float across;
void main() {
  vec4 a, b;
  ends(a, b, tint);
  float na = a.z + a.w, nb = b.z + b.w;
  if (na < 0.0 && nb < 0.0) { gl_Position = vec4(2.0, 2.0, 2.0, 1.0); return; }
  if (na < 0.0) a = mix(a, b, na / (na - nb));
  else if (nb < 0.0) b = mix(b, a, nb / (nb - na));
  vec2 pa = a.xy / a.w * half_viewport, pb = b.xy / b.w * half_viewport;
  vec2 along = pb - pa;
  float len = length(along);
  along = len > 1e-5 ? along / len : vec2(1.0, 0.0);
  vec2 side = vec2(-along.y, along.x);
  int here = corner();
  float s = (here & 1) == 0 ? -1.0 : 1.0;
  vec4 p = here < 2 ? a : b;
  vec2 cap = along * (here < 2 ? -0.5 : 0.5) * min(width, 1.0);
  across = s * (width * 0.5 + 0.5);
  p.xy += (side * s * (width * 0.5 + 0.5) + cap) / half_viewport * p.w;
  float w = p.w * (1.0 - nearer.x);
  p.z = nearer.w > 0.5 ? (nearer.z - nearer.y * w) / w * p.w : p.z + nearer.y * nearer.x;
  gl_Position = p;
}
)";

inline constexpr const char* kLinesFragment = R"(
in vec4 tint;
in float across;
uniform float width;
out vec4 result;
void main() {
  // The outer half pixel fades out: smooth lines without multisampling.
  float cover = clamp(width * 0.5 + 0.5 - abs(across), 0.0, 1.0);
  result = vec4(tint.rgb, tint.a * cover);
}
)";

// What is picked, as a mask; and the line round it, by how far each pixel is from the nearest one of the mask.
inline constexpr const char* kMaskFragment = R"(
flat in vec4 colour;
out vec4 result;
void main() { result = vec4(1.0); }
)";

inline constexpr const char* kOutlineFragment = R"(
uniform sampler2D mask;
uniform ivec2 corner;          // of the picture in the framebuffer
uniform float reach;           // pixels
uniform vec4 colour;
out vec4 result;
void main() {
  ivec2 here = ivec2(gl_FragCoord.xy) - corner, last = textureSize(mask, 0) - 1;
  if (texelFetch(mask, here, 0).r > 0.5) discard;
  float nearest = 100.0, most = reach + 0.5;
  int far = int(most);
  for (int y = -far; y <= far; ++y)
    for (int x = -far; x <= far; ++x) {
      float away = float(x * x + y * y);
      if (away > most * most) continue;
      // At the rim of the picture that is a pixel which lies nearer, and is looked at as that, too.
      if (texelFetch(mask, clamp(here + ivec2(x, y), ivec2(0), last), 0).r > 0.5) nearest = min(nearest, sqrt(away));
    }
  float cover = clamp(reach + 0.5 - nearest, 0.0, 1.0);
  if (cover <= 0.0) discard;
  result = vec4(colour.rgb, colour.a * cover);
}
)";

inline constexpr const char* kBackgroundVertex = R"(
out float height;
void main() {
  vec2 p = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
  height = p.y * 0.5 + 0.5;
  gl_Position = vec4(p, 1.0, 1.0);
}
)";

inline constexpr const char* kBackgroundFragment = R"(
in float height;
uniform vec4 top;
uniform vec4 bottom;
out vec4 result;
void main() { result = mix(bottom, top, clamp(height, 0.0, 1.0)); }
)";

}  // namespace tack::shaders
