#pragma once

#include <QDate>
#include <QString>
#include <vector>

namespace aspen::ui {

/// Days on a line that can be drawn together to years or apart to an afternoon. Days are counted with their
/// fractions since 1970.
class TimeAxis {
  public:
    static double days(const QDate& day, double share_of_day = 0.5);
    /// Of an ISO day, or of an instant with its time of day.
    static double days(const QString& iso);
    static QDate day(double days);

    /// All there is to see; what is shown begins as all of it and stays inside.
    void set_whole(double first, double last);
    /// The same when it was shown whole before, else what was shown stays.
    void renew_whole(double first, double last);
    void set_area(double left, double right);
    double left() const { return left_; }
    double right() const { return right_; }
    double x(double days) const;
    double at(double x) const;
    double from() const { return from_; }
    double to() const { return to_; }
    bool is_whole() const;
    /// By more than 1 closer, about what lies at `x`.
    void zoom(double by, double x);
    void pan(double pixels);
    void show_whole();
    /// Makes sure that it can be seen.
    void show(double days);

    struct Tick {
        double at = 0;
        QString words;
        bool strong = false;  ///< begins a year, or a month among days
    };
    /// Years, months, weeks, days or hours, as many as have room.
    std::vector<Tick> ticks() const;

  private:
    static double read_days(const QString& iso);
    void keep_inside();
    double first_ = 0, last_ = 1, from_ = 0, to_ = 1, left_ = 0, right_ = 1;
};

}  // namespace aspen::ui
