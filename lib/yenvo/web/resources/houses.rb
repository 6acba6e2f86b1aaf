# frozen_string_literal: true

module Yenvo
  module Web
    # The house itself, for administrators: its name, money and numbers, and its working calendar.
    class Houses < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }

      put "/?" do
        redate = body_of_call["redate"] == true
        changes.save_house(body_of_call["house"], redate:, cause:)
        root.forget
        answer 200, shown
      end

      post("/preview") { answer 200, changes.preview(body_of_call["house"], now:) }

      post("/year") { answer 200, {days: changes.days_off(body_of_call["house"], body_of_call["year"])} }

      post "/file" do
        found = changes.read_file(body_of_call["text"], today: root.calendar.date_of(now))
        days_off = found.stretches.map { |one|
          {**one.slice(:name, :yearly), from: one.from.iso8601, to: one.to.iso8601}
        }
        answer 200, {days_off:, left_out: found.left_out}
      end

      private

      def changes = Store::CalendarChanges.new(root, seen:)

      def shown
        house = changes.now
        week = present.week(house["hours"])
        {house: {**house, hours: week}, offered: Openings.choices, stamp: root.setup[3] || 0, jobs: present.house_jobs}
      end
    end
  end
end
