# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Writes a message that leaves the house. record: the one it is about, or nil; way: "mail", "board" or "call";
      # destination: what takes it; content: plain, as it will go; leaves_at: Time at the earliest; ask: whether whoever
      # caused it is asked first; left_out: who does not get it, and why; named: who
      # gets it, as it may be said to whoever reads the record; attach: what goes along, of Actions::SendMail::ATTACH.
      SendOut =
        Effects.define(:send_out, :record, :way, :destination, :content, :leaves_at, ask: false, left_out: [],
          named: nil, attach: []) do
          # Of many runs at once they are written together, but where somebody is asked first, or something is attached.
          def plain? = !ask && attach.empty?

          # @return [Hash] as it is kept while somebody is asked
          def kept_message =
            {"way" => way, "destination" => destination, "content" => content, "words" => words, "named" => named}

          def message
            said = {"way" => way, "leaves_at" => Reading.moment(leaves_at), "left_out" => left_out, "attach" => attach}
            said.merge!(content)
          end
        end
    end
  end
end
