#pragma once

#include "base/param_json.h"
#include "light/adjustment.h"

#include <functional>

namespace buttonhole
{

/// Fills a tile with changed light, made ready for one space. Any thread.
using LightChange =
    std::function<Result<void>(const Source &in, int level, LightTile &out, const Run &run)>;

/// An adjustment that is its numbers. `Values` is a plain struct with
///   static constexpr std::string_view kKind;        its id in files
///   static constexpr int kSince;                    the version of the format that brought it
///   static std::span<const Param<Values>> rows();
///   int reachPx() const;
///   LightChange change(const LightSpace &) const;
/// (none: it changes no light) and may have
///   float spared() const;                           as Adjustment's
///   int readsAroundPx() const;                      as Adjustment's
///   LightChange change(const LightSpace &, double pxPerDelivered) const;
/// and changes nothing while all its numbers are as they begin.
template <class Values>
class NumberAdjustment final : public Adjustment
{
public:
    explicit NumberAdjustment(const Values &values = {}) : m_values(values) {}

    const Values &values() const { return m_values; }
    static AdjustmentKind makeKind()
    {
        AdjustmentKind out;
        out.id = Values::kKind;
        out.since = Values::kSince;
        out.numbers = anyParams(Values::rows());
        out.initial = std::make_shared<const NumberAdjustment>();
        out.fromJson = fromJson;
        return out;
    }

    std::string_view kind() const override { return Values::kKind; }
    uint64_t content() const override
    {
        const uint64_t kind = std::hash<std::string_view>()(Values::kKind);
        return contentOf(m_values, Values::rows(), kind);
    }
    bool isOff() const override
    {
        return std::all_of(Values::rows().begin(), Values::rows().end(),
                           [&](const Param<Values> &row) { return row.isOff(m_values); });
    }
    int reachPx() const override { return m_values.reachPx(); }
    int readsAroundPx() const override
    {
        if constexpr (requires { m_values.readsAroundPx(); })
            return m_values.readsAroundPx();
        else
            return m_values.reachPx();
    }
    SourceRef over(SourceRef in) const override { return overFor(std::move(in), 1); }
    SourceRef overFor(SourceRef in, double pxPerDelivered) const override
    {
        if constexpr (kHasChange)
            return std::make_shared<const Changed>(std::move(in), content(), m_values,
                                                   pxPerDelivered);
        else
            return in;
    }
    bool changesLight() const override { return kHasChange && !isOff(); }
    float spared() const override
    {
        if constexpr (requires { m_values.spared(); })
            return m_values.spared();
        else
            return 0;
    }
    void toJson(nlohmann::json &out) const override { paramsToJson(out, m_values, Values::rows()); }
    float number(size_t index) const override { return Values::rows()[index].get(m_values); }
    AdjustmentRef withNumber(size_t index, float value) const override
    {
        Values values = m_values;
        Values::rows()[index].of(values) = value;
        return std::make_shared<const NumberAdjustment>(values);
    }

private:
    static constexpr bool kHasChange = requires(const Values &values, const LightSpace &space)
    {
        values.change(space);
    };

    static Result<AdjustmentRef> fromJson(const nlohmann::json &in)
    {
        Values values;
        if (auto fine = paramsFromJson(in, values, Values::rows()); !fine)
            return fine.error();
        return AdjustmentRef(std::make_shared<const NumberAdjustment>(values));
    }

    class Changed final : public ChangedSource
    {
    public:
        Changed(SourceRef before, uint64_t by, const Values &values, double pxPerDelivered)
            : ChangedSource(std::move(before)),
              m_content(joinedContent(joinedContent(in().content(), by), {float(pxPerDelivered)})),
              m_change(changeOf(values, pxPerDelivered))
        {
        }
        uint64_t content() const override { return m_content; }
        Result<void> fill(int level, LightTile &out, const Run &run) const override
        {
            return m_change(in(), level, out, run);
        }

    private:
        LightChange changeOf(const Values &values, [[maybe_unused]] double pxPerDelivered) const
        {
            if constexpr (requires { values.change(in().space(), pxPerDelivered); })
                return values.change(in().space(), pxPerDelivered);
            else
                return values.change(in().space());
        }
        uint64_t m_content;
        LightChange m_change;
    };

    Values m_values;
};

} // namespace buttonhole
