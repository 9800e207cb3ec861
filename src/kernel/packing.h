// Values as bytes and back, to be handed from one process to another of the same program. A class
// is packed by its pack(packing), which names its members once for both ways.
#pragma once
#include <cstddef>
#include <cstring>
#include <stdexcept>
#include <type_traits>
#include <utility>
#include <vector>
#include "cells.h"

namespace kernel {

class Packer {
 public:
  static constexpr bool reads = false;
  const std::vector<unsigned char>& bytes() const { return bytes_; }

  void raw(const void* from, std::size_t n) {
    const auto* first = static_cast<const unsigned char*>(from);
    bytes_.insert(bytes_.end(), first, first + n);
  }

 private:
  std::vector<unsigned char> bytes_;
};

class Unpacker {
 public:
  static constexpr bool reads = true;
  Unpacker(const unsigned char* bytes, std::size_t n) : at_(bytes), left_(n) {}

  void raw(void* to, std::size_t n) {
    if (n > left_) throw std::invalid_argument("packed values end too soon");
    if (n > 0) std::memcpy(to, at_, n);
    at_ += n;
    left_ -= n;
  }

  template <class T>
  void take(T& value) { value.pack(*this); }

  // A count of things that take some bytes each: never more than the bytes that are left hold.
  std::size_t count(std::size_t bytes_each) {
    std::size_t n = 0;
    raw(&n, sizeof n);
    if (n > left_ / bytes_each) throw std::invalid_argument("packed values end too soon");
    return n;
  }

 private:
  const unsigned char* at_;
  std::size_t left_;
};

template <class Packing, class T>
void pack(Packing& packing, T& value) {
  if constexpr (std::is_trivially_copyable<T>::value) packing.raw(&value, sizeof value);
  else value.pack(packing);
}

template <class Packing, class T>
void pack(Packing& packing, std::vector<T>& values) {
  static_assert(std::is_trivially_copyable<T>::value, "only plain values lie side by side");
  if constexpr (Packing::reads) {
    values.resize(packing.count(sizeof(T)));
  } else {
    const std::size_t n = values.size();
    packing.raw(&n, sizeof n);
  }
  packing.raw(values.data(), values.size() * sizeof(T));
}

template <class Packing>
void pack(Packing& packing, std::vector<bool>& values) {
  std::vector<unsigned char> plain(values.begin(), values.end());
  pack(packing, plain);
  if constexpr (Packing::reads) values.assign(plain.begin(), plain.end());
}

template <class Packing, class T>
void pack(Packing& packing, SomeCells<T>& cells) {
  if constexpr (Packing::reads) {
    for (std::size_t n = packing.count(sizeof(std::size_t)); n > 0; --n) {
      std::size_t cell = 0;
      packing.raw(&cell, sizeof cell);
      pack(packing, cells.at(cell));
    }
  } else {
    const std::size_t n = cells.size();
    packing.raw(&n, sizeof n);
    cells.each([&](std::size_t cell, T& value) {
      packing.raw(&cell, sizeof cell);
      pack(packing, value);
    });
  }
}

}  // namespace kernel
