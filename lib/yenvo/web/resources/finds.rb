# frozen_string_literal: true

module Yenvo
  module Web
    # Finds records of any kind by the words of their titles.
    class Finds < Base
      get "/?" do
        kinds =
          params["kind"] && root.schema.kinds.keys.select { |key| [key, key.split("/")[0]].include?(params["kind"]) }
        answer 200, {found: present.linked(root.lists.find(params["text"], kinds:, sight:))}
      end
    end
  end
end
