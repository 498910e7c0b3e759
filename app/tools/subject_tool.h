#pragma once

#include "subject/found_subjects.h"
#include "subject/subject_solver.h"
#include "tools/region_tool.h"

#include <QImage>
#include <QPainterPath>

namespace buttonhole::app
{

/// Keeps whole subjects: what was found in the photo, by one click; anything else by clicks or a
/// box as a region does, with what the nets know as evidence.
class SubjectTool final : public RegionTool
{
    Q_OBJECT
public:
    SubjectTool(Session &session, const ToolSign &sign, Jobs &jobs, QObject *parent);

    std::string kind() const override { return "subject"; }
    QString help() const override
    {
        return tr("Click a found subject, or anything else; Shift-drag a box round it. "
                  "Ctrl-click what does not belong. Q, W: smaller, larger.");
    }

    QString firstHint() const override
    {
        return tr("Click what should stay in colour, or Shift-drag a box round it.");
    }

    void press(const PointerEvent &event) override;
    void hover(const PointerEvent &event) override;
    void release() override;
    void drop() override;
    void reset() override;
    void takenUp() override;
    void paintMarks(QPainter &painter, const ViewTransform &view) const override;

    /// One thing found, with a small picture of it.
    struct Offer {
        FoundSubject found;
        QImage picture;
        QPainterPath outline; ///< px of the photo; empty until it was traced
        bool isTraced = false;
    };
    enum class State { NotLooked, Looking, Looked, Failed };
    State state() const { return m_state; }
    const QList<Offer> &offers() const { return m_offers; }
    /// Why nothing, or less than there is, could be looked for, for the user.
    QString problem() const { return m_problem; }
    int lit() const { return m_lit; }
    /// -1: none. Lights one up, as pointing at it does.
    void light(int offer);
    /// Makes steps of some offers, one after the other.
    void take(const QList<int> &offers);

Q_SIGNALS:
    void offersChanged();
    void litChanged();

protected:
    Solve solver() override;
    Glimpse glimpse(const RegionAsk &ask) override;
    bool showsBox() const override;
    void forget() override { m_subjects = std::make_shared<SubjectSolver>(); }
    std::shared_ptr<const StepShape> shapeFor(const RegionAsk &ask, MaskPlane plane) override;
    void begins(const RegionStep *selected) override;
    void landed() override;

private:
    struct Look {
        QList<Offer> offers;
        std::optional<Error> error;
        std::optional<Error> missing; ///< of what makes it better
    };
    using Find = Result<std::vector<FoundSubject>> (*)(const PhotoLevels &, const Run &);
    void lookOver();
    void look(Find find, std::function<void(const Look &)> then);
    void addFound(const Look &found);
    void endLooking(const Look &last);
    /// Traces the offers in the background, one after the other; what is pointed at comes first.
    void traceNext();
    void takeNext();
    bool showsOffers() const;
    void paintOffer(QPainter &painter, const ViewTransform &view, int offer, bool isLit) const;
    /// All offers but the main subject, drawn once for a view: outlines are dear.
    const QImage &offersLayer(const ViewTransform &view) const;
    /// Draws that part of the layer anew, px of the widget.
    void paintOffers(const ViewTransform &view, const QRectF &stale) const;
    /// The smallest offer that holds a place; -1: none. The main subject is in the tray only.
    int offerAt(const PointerEvent &event) const;

    std::shared_ptr<SubjectSolver> m_subjects = std::make_shared<SubjectSolver>();
    SubjectNote m_note;
    State m_state = State::NotLooked;
    uint64_t m_photo = 0; ///< what was looked over
    QList<Offer> m_offers;
    mutable QImage m_layer; ///< of offersLayer(); null: other offers
    mutable ViewTransform m_layerView;
    mutable QList<int> m_layerStale; ///< offers whose marks have changed since
    QString m_problem;
    QList<int> m_queue; ///< offers still to be taken
    std::stop_source m_trace;
    int m_traces = 0;  ///< begun so far
    int m_tracing = 0; ///< the number of the one under way; 0: none is
    int m_lit = -1;
    int m_pressed = -1;                      ///< the offer under a press with Shift
    std::shared_ptr<SubjectReport> m_report; ///< of the answer that came last
    std::vector<Rect> m_under;               ///< boxes of the offers under the last press
};

} // namespace buttonhole::app
