# frozen_string_literal: true

module Yenvo
  module Web
    # What the person who asks has been told.
    class Notices < Base
      get "/?" do
        rows = root.notices.of(person[:key], before: number("before"))
        answer 200,
          {
            notices: present.notices(rows), unread: root.notices.unread(person[:key]),
            next: (rows.size == Store::Notices::PAGE) ? rows.last[:id] : nil
          }
      end

      post "/read" do
        root.notices.read(person[:key], body_of_call["ids"], at: now)
        answer 200, {unread: root.notices.unread(person[:key])}
      end
    end
  end
end
