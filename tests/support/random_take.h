#pragma once

#include "base/param.h"

#include <nlohmann/json.hpp>

#include <random>

namespace buttonhole::test
{

/// Takes of everything that a take can hold, by a seed: kinds, numbers within their ranges and at
/// their ends, on and off, in any combination.
class RandomTake
{
public:
    /// @param width,height of the photo, px
    RandomTake(uint32_t seed, int width, int height)
        : m_random(seed), m_width(width), m_height(height)
    {
        make();
    }
    const nlohmann::json &take() const { return m_json; }
    /// The first version of the format that knew all that was put into it.
    int since() const { return m_since; }

private:
    double share() { return double(m_random()) / 4294967296.0; } ///< 0..1
    bool oneIn(int n) { return int(m_random() % unsigned(n)) == 0; }
    int upTo(int most) { return int(m_random() % unsigned(most + 1)); } ///< it included
    float number(float least, float most);
    nlohmann::json place() { return {share() * m_width, share() * m_height}; }
    nlohmann::json box(); ///< x, y, width, height; inside the photo
    void needs(int version) { m_since = std::max(m_since, version); }

    template <class T>
    void addNumbers(nlohmann::json &out, std::span<const Param<T>> rows, int oneOf = 4);
    void make();
    nlohmann::json grey();
    nlohmann::json geometry();
    nlohmann::json adjustment(std::initializer_list<const char *> kinds);
    nlohmann::json lines(std::initializer_list<const char *> kinds);
    nlohmann::json masked(const char *name);
    nlohmann::json step();
    nlohmann::json shape();
    nlohmann::json range();

    std::mt19937 m_random;
    int m_width;
    int m_height;
    int m_since = 1;
    int m_lastId = 0;
    nlohmann::json m_json;
};

} // namespace buttonhole::test
