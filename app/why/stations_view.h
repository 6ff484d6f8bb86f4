// The stations of an interaction, from the window system to the repaint, one below the other on a line; the
// line is whole as far as the interaction came.
//
// Threads: the loop's thread only.
#pragma once

#include "app/look/tokens.h"
#include "core/why/why.h"

#include <QAbstractListModel>
#include <QListView>

namespace pipit::app
{

class StationsModel : public QAbstractListModel
{
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    void set(std::vector<Station> stations);
    const Station *at(int row) const;

    int rowCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;

private:
    std::vector<Station> stations_;
};

class StationsView : public QListView
{
    Q_OBJECT
public:
    explicit StationsView(QWidget *parent = nullptr);
    void set(std::vector<Station> stations);
    void setEmptyText(const QString &text);
    StationsModel *stations() const { return model_; }

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    StationsModel *model_;
    QString empty_;
};

} // namespace pipit::app
