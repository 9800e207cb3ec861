// What coverage.cpp counts: how often each pair of neighbouring places was
// passed, by a hash of the pair.
#pragma once
#include <cstddef>
#include <cstdint>

constexpr std::size_t coverage_size = std::size_t{1} << 16;

void clear_coverage();
const std::uint8_t* coverage();
