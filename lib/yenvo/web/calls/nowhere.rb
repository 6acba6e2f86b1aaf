# frozen_string_literal: true

module Yenvo
  module Web
    # What lies at no address.
    Nowhere = ->(env) do
      Json.refuse(404, "There is nothing at #{env["REQUEST_METHOD"]} #{env["SCRIPT_NAME"]}#{env["PATH_INFO"]}.")
    end
  end
end
