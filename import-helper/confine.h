// What the import helper takes from itself before it looks into a file.
#pragma once

#include <cstdint>

namespace tack {

/// Limits this process: bytes of memory, bytes of what it writes, seconds of processor time; no core dumps. It ends
/// when its parent does.
void limit_resources(std::uint64_t memory, std::uint64_t answer, std::uint64_t seconds);

/// From here on the process can compute, ask for memory, read, write and truncate what is open, and end; it can open
/// no file, no socket and no other process, and gains no rights (seccomp, no_new_privs). Everything else fails as
/// forbidden. Where the system has no such filters only the limits remain.
void confine();

}  // namespace tack
