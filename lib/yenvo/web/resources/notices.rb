# frozen_string_literal: true

module Yenvo
  module Web
    # What the person who asks has been told.
    class Notices < Base
      get "/?" do
        rows = root.notices.of(person[:key], before: number("before"), rule: number("rule"))
        answer 200,
          {
            notices: present.notices(rows), rules:, unread: root.notices.unread(person[:key]),
            next: (rows.size == Store::Notices::PAGE) ? rows.last[:id] : nil
          }
      end

      # Rules that have told one something, to choose one.
      def rules
        return if number("before")

        names = root.rules.names(ids = root.notices.rules_of(person[:key]))
        ids.filter_map { |id| names[id] && {id:, name: names[id]} }
      end

      post "/read" do
        root.notices.read(person[:key], body_of_call["ids"], at: now)
        answer 200, {unread: root.notices.unread(person[:key])}
      end
    end
  end
end
