// How much memory the process may still take, and giving back what it has freed.
#pragma once

#include <cstddef>

namespace tack {

/// Bytes that the process may still take: the least of what is left of its address space, of what its control groups
/// (version 2) may hold, and of what the machine has available. 0.03 ms where no group has a limit.
std::size_t memory_left();

/// Bytes that are never planned with: the driver of OpenGL ends the process when it finds no memory for a picture.
inline constexpr std::size_t kMemoryReserve = std::size_t{96} << 20;

/// Lets threads share the allocator's pools, instead of each keeping one in which what it has freed lies for good.
/// Before the first thread starts.
void share_memory_pools();

/// Gives what has been freed, and is held for later, back to the system where that is more than a few megabytes. In the
/// background; another call meanwhile does nothing.
void give_back_memory();

}  // namespace tack
