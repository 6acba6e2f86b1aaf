# frozen_string_literal: true

module Yenvo
  module Web
    # Finds records of any kind by the words of their titles, by e-mail, phone or number.
    class Finds < Base
      get "/?" do
        kinds =
          params["kind"] && root.schema.kinds.keys.select { |key| [key, key.split("/")[0]].include?(params["kind"]) }
        found = Store::Finding.new(root, sight).find(params["text"], kinds:)
        answer 200, {found: present.linked(found).zip(found).map { |one, row| one.merge(why: row[:why]) }}
      end
    end
  end
end
