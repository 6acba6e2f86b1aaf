# frozen_string_literal: true

module Yenvo
  module Web
    # The open tasks of a person as a calendar, for programs that know its private address.
    class Calendars < Base
      MOST = 1_000
      PER_MINUTE = 30

      get(%r{/([A-Za-z0-9]+)\.ics}) do |token|
        whose, events = root.calendar_feeds.read!(token)
        too_often!(token)
        content_type "text/calendar; charset=utf-8"
        headers "cache-control" => "private, max-age=300", "content-disposition" => "inline; filename=\"tasks.ics\""
        calendar(whose).text(tasks(whose), events:)
      end

      private

      def too_often!(token)
        return if root.counts.add("calendar #{token}", seconds: 60) <= PER_MINUTE

        headers "retry-after" => "60"
        refuse 429, "This calendar was asked for #{PER_MINUTE} times within a minute. Wait a minute, then ask again."
      end

      def calendar(whose)
        name = "#{whose[:name]} · #{root.setup_store.house_name}"
        address = house.settings.address || request.base_url
        Core::TaskCalendar.new(name, address:, now:)
      end

      # Only what the person may see.
      def tasks(whose)
        sight = Store::Sight.new(root, whose[:key])
        filter = {assignee: whose[:key], state: "open"}
        rows = Store::Worklist.new(root, sight).list(filter, now:, limit: MOST)
        titles = sight.titles(rows.filter_map { |row| row[:record_id] })
        rows.map { |row| plain(row, titles.dig(row[:record_id], :title)) }
      end

      def plain(row, about) = {**row, **Store::TaskColumns.shown(row).slice(:priority), about:, due: due(row)}

      # @return [Date, Time, nil]
      def due(row) = row[:due_minutes] ? row[:due_at] : row[:due_on]
    end
  end
end
