#include "light/adjustment.h"

#include <nlohmann/json.hpp>

#include <deque>
#include <mutex>

namespace buttonhole
{

namespace
{

using nlohmann::json;

/// Of a kind from a newer version: changes nothing, its JSON goes back into the file.
class UnknownAdjustment final : public Adjustment
{
public:
    explicit UnknownAdjustment(json in) : m_json(std::move(in)), m_kind(m_json.at("kind")) {}
    std::string_view kind() const override { return m_kind; }
    bool isUnderstood() const override { return false; }
    uint64_t content() const override { return 0; }
    bool isOff() const override { return true; }
    SourceRef over(SourceRef in) const override { return in; }
    void toJson(json &out) const override { out.update(m_json); }
    AdjustmentRef withNumber(size_t, float) const override
    {
        return std::make_shared<const UnknownAdjustment>(m_json);
    }

private:
    json m_json;
    std::string m_kind;
};

struct Kinds {
    std::mutex mutex;
    std::deque<AdjustmentKind> rows; ///< which stay where they are
};

Kinds &kinds()
{
    static Kinds all;
    return all;
}

} // namespace

const AdjustmentKind *findAdjustmentKind(std::string_view id)
{
    const std::scoped_lock lock(kinds().mutex);
    for (const AdjustmentKind &kind : kinds().rows)
        if (kind.id == id)
            return &kind;
    return nullptr;
}

std::vector<std::string_view> adjustmentKindIds()
{
    const std::scoped_lock lock(kinds().mutex);
    std::vector<std::string_view> out;
    for (const AdjustmentKind &kind : kinds().rows)
        out.push_back(kind.id);
    return out;
}

void addAdjustmentKind(AdjustmentKind kind)
{
    assert(!findAdjustmentKind(kind.id));
    const std::scoped_lock lock(kinds().mutex);
    kinds().rows.push_back(std::move(kind));
}

Result<AdjustmentRef> adjustmentFromJson(const json &in, std::vector<std::string> &notes)
{
    const std::string id = in.at("kind").get<std::string>();
    if (const AdjustmentKind *kind = findAdjustmentKind(id))
        return kind->fromJson(in);
    notes.push_back("An adjustment of the kind \"" + id +
                    "\" is from a newer version: it is kept but has no effect here.");
    return AdjustmentRef(std::make_shared<const UnknownAdjustment>(in));
}

void adjustmentToJson(json &out, const Adjustment &adjustment)
{
    adjustment.toJson(out);
    out["kind"] = adjustment.kind();
}

Result<AdjustmentRef> withNumber(const Adjustment &adjustment, std::string_view id, float value)
{
    std::string known;
    if (const AdjustmentKind *kind = findAdjustmentKind(adjustment.kind()))
        for (size_t i = 0; i < kind->numbers.size(); ++i) {
            const AdjustmentNumber &number = kind->numbers[i];
            known += (known.empty() ? "" : ", ") + number.id;
            if (number.id != id)
                continue;
            if (!(value >= number.least && value <= number.most))
                return Error{ErrorKind::InvalidArgument, std::string(id),
                             expectedNumber(number.least, number.most)};
            return adjustment.withNumber(i, value);
        }
    return Error{ErrorKind::NotFound, std::string(id), "there are: " + known};
}

} // namespace buttonhole
